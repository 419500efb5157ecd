import type { Affine } from '../geometry/affine.js';
import { IDENTITY } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder } from '../geometry/path.js';
import { drawPiece, endOf, piecesOf, reversed } from '../geometry/path-pieces.js';
import { DRAFTING_DEFAULT } from '../drawing/appearance.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey, newLayer } from '../drawing/drawing.js';
import type { Entity, Text } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { resolveRef } from '../drawing/entity-ref.js';
import { BoundsSink, addEntityBounds, lengthOf } from '../drawing/measures.js';
import { shapesOf } from '../text/outlines.js';
import type { Step } from './step.js';

/** How finely a picked curve is followed, as a part of its size. */
const FINENESS = 1e-6;

/** Sets a text along a circle, an arc of it, or a curve of the drawing, as outlines or single lines. */
export const letteringOnCurve: Step = {
  id: 'lettering-on-curve',
  title: 'Lettering on a curve',
  summary: 'Sets a text along a circle or any curve of the drawing, as outlines or single lines of its letters.',
  carries: ['text'],
  on: 'whole',
  params: {
    type: 'object',
    properties: {
      text: { type: 'text', title: 'Text', default: 'Kestrel Row', maxLength: 500 },
      along: { type: 'string', title: 'Along', default: 'circle', enum: ['circle', 'curve'], titles: ['A circle', 'A curve of the drawing'] }, // prettier-ignore
      curve: { when: { along: 'curve' }, type: 'picked', title: 'Curve', default: '' },
      x: { when: { along: 'circle' }, type: 'number', title: 'Centre x', default: 0, unit: 'drawing' },
      y: { when: { along: 'circle' }, type: 'number', title: 'Centre y', default: 0, unit: 'drawing' },
      radius: {
        when: { along: 'circle' },
        type: 'number',
        title: 'Radius',
        default: 50,
        exclusiveMinimum: 0,
        unit: 'drawing',
      },
      angle: {
        when: { along: 'circle' },
        type: 'number',
        title: 'Middle of the text at',
        default: 90,
        unit: 'degrees',
      },
      side: { type: 'string', title: 'Letters stand', default: 'over', enum: ['over', 'under'], titles: ['Over it, or outside', 'Under it, or inside'] }, // prettier-ignore
      height: { type: 'number', title: 'Height of capitals', default: 5, exclusiveMinimum: 0, unit: 'drawing' },
      spacing: { type: 'number', title: 'Room between letters', default: 0, unit: 'drawing' },
      gap: { type: 'number', title: 'Off the curve', default: 0, unit: 'drawing' },
      align: { when: { along: 'curve' }, type: 'string', title: 'On a curve, begin at', default: 'middle', enum: ['start', 'middle', 'end'], titles: ['Its start', 'Its middle', 'Its end'] }, // prettier-ignore
      font: { type: 'text', title: 'Font', default: 'Spline Sans', maxLength: 200, suggest: 'fonts' },
      form: { type: 'string', title: 'Letters become', default: 'outlines', enum: ['outlines', 'lines'], titles: ['Closed outlines', 'Single lines'] }, // prettier-ignore
      layer: { type: 'text', title: 'On layer', default: 'Lettering', maxLength: 200, suggest: 'layers' },
    },
    required: ['text', 'along', 'height'],
    additionalProperties: false,
  },
  run(drawing, p, ctx) {
    const number = (name: string): number => Number(p[name]);
    const words = String(p['text']).trim();
    if (words === '') return drawing;
    const onCurve = p['along'] === 'curve';
    const over = p['side'] === 'over';
    let path: PathData;
    let offset: number;
    let align = String(p['align']);
    if (onCurve) {
      const ref = String(p['curve'] || '');
      const picked = resolveRef(ref, drawing);
      if (!picked) {
        ctx.ledger.add({
          carryOver: 'text', action: 'dropped', onPurpose: ref === '',
          reason: ref === '' ? 'no curve is picked: nothing was set' : 'the picked curve cannot be told for certain in this drawing: nothing was set; pick it again',
        }); // prettier-ignore
        return drawing;
      }
      path = trackAlong(picked, IDENTITY);
      if (!over) {
        path = turned(path);
        align = align === 'start' ? 'end' : align === 'end' ? 'start' : 'middle';
      }
      const length = lengthOf({ kind: 'path', id: 0, layer: '', look: DRAFTING_DEFAULT, path });
      offset = align === 'start' ? 0 : align === 'end' ? length : length / 2;
    } else {
      align = 'middle';
      const radius = number('radius');
      path = circleFrom(number('x'), number('y'), radius, (number('angle') * Math.PI) / 180 + Math.PI, over);
      offset = Math.PI * radius;
    }
    const capital = ctx.fonts.capital(String(p['font']));
    const em = number('height') / capital;
    const layer = String(p['layer']).trim() || '0';
    const rise = number('gap') / em;
    const text: Text = {
      kind: 'text', id: drawing.nextId, layer, look: DRAFTING_DEFAULT, text: words, at: [0, 0, 0],
      size: em, sizeOf: 'em', rotation: 0, widthFactor: 1, oblique: 0, vertical: 'baseline',
      horizontal: align === 'start' ? 'left' : align === 'end' ? 'right' : 'centre',
      font: { family: String(p['font']), weight: 400, italic: false },
      along: { path, offset },
      ...(number('spacing') !== 0 && { spacing: number('spacing') }),
      ...(rise !== 0 && { runs: [{ text: words, scale: 1, rise }] }),
    }; // prettier-ignore
    const shapes = shapesOf(text, drawing, ctx.fonts, ctx.ledger, p['form'] === 'lines' ? 'lines' : 'outlines');
    const letters = [...words].filter((c) => c.trim() !== '').length;
    if (shapes.length < letters) {
      ctx.ledger.add({
        carryOver: 'text', action: 'dropped', count: letters - shapes.length,
        reason: 'letters that find no room on the curve, or that no font has, are left out',
      }); // prettier-ignore
    }
    const made = shapes.map((s, i): Entity => ({ ...s, id: drawing.nextId + i }));
    ctx.lineage.add(made, 'lettering-set');
    return {
      ...withLayer(drawing, layer),
      entities: [...drawing.entities, ...made],
      nextId: drawing.nextId + made.length,
    };
  },
};

function withLayer(drawing: Drawing, name: string): Drawing {
  const has = drawing.layers.some((l) => layerKey(drawing, l.name) === layerKey(drawing, name));
  return has ? drawing : { ...drawing, layers: [...drawing.layers, newLayer(name)] };
}

/** A whole turn that begins at an angle: clockwise for letters that stand outside, the other way for those inside. */
function circleFrom(x: number, y: number, r: number, from: number, clockwise: boolean): PathData {
  const at = (a: number): [number, number] => [x + r * Math.cos(a), y + r * Math.sin(a)];
  const step = clockwise ? -Math.PI : Math.PI;
  return new PathBuilder()
    .moveTo(...at(from))
    .arcTo(r, r, 0, false, !clockwise, ...at(from + step))
    .arcTo(r, r, 0, false, !clockwise, ...at(from))
    .build();
}

/** The curve of an entity as chords close enough to be followed by letters. */
function trackAlong(e: Entity, m: Affine): PathData {
  const box = new BoundsSink(new Box2());
  addEntityBounds(e, m, box);
  const out = new PathBuilder();
  let first = true;
  flattenEntity(e, m, (box.box.diagonal || 1) * FINENESS, {
    moveTo: (x, y) => {
      if (first) out.moveTo(x, y);
      first = false;
    },
    lineTo: (x, y) => void out.lineTo(x, y),
  });
  return out.build();
}

function turned(path: PathData): PathData {
  const out = new PathBuilder();
  const pieces = piecesOf(path, false).flatMap((p) => p.pieces);
  if (pieces.length === 0) return path;
  out.moveTo(...endOf(pieces[pieces.length - 1]!));
  for (const p of pieces.reverse()) drawPiece(out, reversed(p));
  return out.build();
}

import type { Affine } from '../geometry/affine.js';
import { IDENTITY } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder } from '../geometry/path.js';
import { drawPiece, endOf, piecesOf, reversed } from '../geometry/path-pieces.js';
import { DRAFTING_DEFAULT } from '../drawing/appearance.js';
import { withLayer } from '../drawing/drawing.js';
import type { Entity, Text } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { resolveRef } from '../drawing/entity-ref.js';
import { BoundsSink, addEntityBounds, lengthOf } from '../drawing/measures.js';
import { shapesOf } from '../text/outlines.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { UNSEEN } from '../geometry/tolerance.js';

/** How finely a picked curve is followed, as a part of its size. */
const FINENESS = UNSEEN;

/** Sets a text along a circle, an arc of it, or a curve of the drawing, as outlines or single lines. */
export const letteringOnCurve = defineStep({
  id: 'lettering-on-curve',
  title: 'Lettering on a curve',
  summary: 'Sets a text along a circle or any curve of the drawing, as outlines or single lines of its letters.',
  carries: ['text'],
  group: 'text',
  example: {
    drawing: exampleDrawing([sketch.circle(0, 0, 20)]),
    params: { text: 'Kestrel Row', radius: 22, height: 7 },
  },
  params: {
    text: p.text({ title: 'Text', default: 'Kestrel Row', maxLength: 500 }),
    along: p.choice({
      title: 'Along',
      default: 'circle',
      choices: { circle: 'A circle', curve: 'A curve of the drawing' },
    }),
    curve: p.picked({ when: { along: 'curve' }, title: 'Curve', atMost: 1 }),
    centre: p.point({ when: { along: 'circle' }, title: 'Centre' }),
    radius: p.length({ when: { along: 'circle' }, title: 'Radius', default: 50, above: 0 }),
    angle: p.angle({ when: { along: 'circle' }, title: 'Centre of the text at', default: 90 }),
    side: p.choice({
      title: 'Letters stand',
      default: 'over',
      choices: { over: 'Over it, or outside', under: 'Under it, or inside' },
    }),
    height: p.length({ title: 'Height of capitals', default: 5, above: 0 }),
    spacing: p.length({ title: 'Letter spacing', default: 0 }),
    gap: p.length({ title: 'Distance from the curve', default: 0 }),
    align: p.choice({
      when: { along: 'curve' },
      title: 'On a curve, begin at',
      default: 'middle',
      choices: { start: 'Its start', middle: 'Its middle', end: 'Its end' },
    }),
    font: p.font({ title: 'Font', default: 'Spline Sans' }),
    form: p.choice({
      title: 'Letters become',
      default: 'outlines',
      choices: { outlines: 'Closed outlines', lines: 'Single lines' },
    }),
    layer: p.text({ title: 'On layer', default: 'Lettering', maxLength: 200, suggest: 'layers' }),
  },
  migrations: [
    // The centre was two numbers; what was picked was one reference, and a number before that, which meant nothing for long.
    ({ x = 0, y = 0, curve, ...kept }) => ({
      centre: { x, y },
      ...kept,
      curve: Array.isArray(curve) ? curve : typeof curve === 'string' && curve !== '' ? [curve] : [],
    }),
  ],
  run(drawing, params, ctx) {
    const words = params.text.trim();
    if (words === '') return drawing;
    const onCurve = params.along === 'curve';
    const over = params.side === 'over';
    let path: PathData;
    let offset: number;
    let align: 'start' | 'middle' | 'end' = params.align;
    if (onCurve) {
      const ref = params.curve[0] ?? '';
      const picked = resolveRef(ref, drawing);
      if (!picked) {
        ctx.ledger.add({
          carryOver: 'text',
          action: 'dropped',
          onPurpose: ref === '',
          reason: ref === '' ? 'no-curve-picked' : 'picked-curve-uncertain',
        });
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
      const { centre, radius, angle } = params;
      path = circleFrom(centre.x, centre.y, radius, (angle * Math.PI) / 180 + Math.PI, over);
      offset = Math.PI * radius;
    }
    const capital = ctx.fonts.capital(params.font);
    const em = params.height / capital;
    const layer = params.layer.trim() || '0';
    const rise = params.gap / em;
    const text: Text = {
      kind: 'text',
      id: drawing.nextId,
      layer,
      look: DRAFTING_DEFAULT,
      text: words,
      at: [0, 0, 0],
      size: em,
      sizeOf: 'em',
      rotation: 0,
      widthFactor: 1,
      oblique: 0,
      vertical: 'baseline',
      horizontal: align === 'start' ? 'left' : align === 'end' ? 'right' : 'centre',
      font: { family: params.font, weight: 400, italic: false },
      along: { path, offset },
      ...(params.spacing !== 0 && { spacing: params.spacing }),
      ...(rise !== 0 && { runs: [{ text: words, scale: 1, rise }] }),
    };
    const shapes = shapesOf(text, drawing, ctx.fonts, ctx.ledger, params.form === 'lines' ? 'lines' : 'outlines');
    const letters = [...words].filter((c) => c.trim() !== '').length;
    if (shapes.length < letters) {
      ctx.ledger.add({
        carryOver: 'text',
        action: 'dropped',
        count: letters - shapes.length,
        reason: 'letters-without-room',
      });
    }
    const made = shapes.map((s, i): Entity => ({ ...s, id: drawing.nextId + i }));
    ctx.lineage.add(made, 'lettering-set');
    return {
      ...withLayer(drawing, layer),
      entities: [...drawing.entities, ...made],
      nextId: drawing.nextId + made.length,
    };
  },
});

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

import { extentOf } from '../analysis/extent.js';
import { selectedBy } from '../analysis/selection.js';
import { entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey, withLayer } from '../drawing/drawing.js';
import type { Entity, RichText, Text } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { because } from '../drawing/reasons.js';
import { transformDrawing } from '../drawing/transform.js';
import { checkStop } from '../formats/format.js';
import { IDENTITY, applyPoint, compose, rotation, scaling, translation } from '../geometry/affine.js';
import type { Affine } from '../geometry/affine.js';
import { chordsFor, pointAt } from '../geometry/path-pieces.js';
import type { Chord } from '../geometry/clip-chord.js';
import type { Piece } from '../geometry/path-pieces.js';
import { CHORDS } from '../geometry/tolerance.js';
import { PART_RULES, findParts } from '../parts/find.js';
import type { Part, PartsFound } from '../parts/find.js';
import type { LabelRoom } from '../parts/label-place.js';
import { fitsAt, largestThatFits, placeFor } from '../parts/label-place.js';
import { p } from '../parameters/parameter.js';
import { textCorners } from '../text/text-corners.js';
import { exampleDrawing, sketch } from './example.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';
import { movedBy, tellChange } from './tell.js';

/** Brings labels into the parts they belong to. */
export const labelsInside = defineStep({
  id: 'labels-inside',
  title: 'Labels inside',
  summary:
    'Labels that run over their part, a hole or a mark are moved within it, turned, made smaller, or put onto a layer of their own.',
  carries: ['text'],
  group: 'text',
  example: {
    drawing: exampleDrawing([sketch.chain([0, 0, 60, 0, 60, 30, 0, 30], true), sketch.text('No 7', 44, 12, 7)]),
  },
  params: {
    margin: p.length({ title: 'Clear of edges by', default: 2, atLeast: 0 }),
    turn: p.yesNo({ title: 'May be turned a quarter', default: true }),
    least: p.optional(p.length({ title: 'May be made smaller, down to a height of', default: 2.5, above: 0 }), 'never'),
    aside: p.choice({
      title: 'What fits nowhere',
      default: 'stay',
      choices: { stay: 'Stays, and is told', layer: 'Goes onto a layer of its own' },
    }),
    layer: p.text({
      title: 'That layer',
      default: 'LABELS-ASIDE',
      maxLength: 255,
      suggest: 'layers',
      when: { aside: 'layer' },
    }),
    which: p.selection({ title: 'Which labels' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const found = findParts(drawing, PART_RULES, ctx);
    const placeOf = new Map(drawing.entities.map((e, i) => [e, i]));
    const entities = [...drawing.entities];
    const told = { moved: 0, turned: 0, smaller: 0, aside: 0, farthest: 0 };
    for (const part of found.parts) {
      for (const label of part.labels) {
        checkStop(ctx);
        const { entity } = found.visits[label]!;
        const at = placeOf.get(entity);
        if (at === undefined || !isLabel(entity) || !wanted(entity)) continue;
        ctx.look();
        const made = within(entity, part, found, drawing, params, ctx);
        if (made === 'fits') continue;
        if (made === null) {
          told.aside++;
          if (params.aside === 'stay') ctx.leave('label-fits-nowhere', entity);
          else if (layerKey(drawing, entity.layer) !== layerKey(drawing, params.layer)) {
            const aside = { ...entity, layer: params.layer } as Entity;
            ctx.lineage.replace(entity, [aside], 'resorted');
            entities[at] = aside;
          } else told.aside--;
          continue;
        }
        entities[at] = made.to;
        told[made.how]++;
        told.farthest = Math.max(told.farthest, made.moved);
        ctx.lineage.replace(entity, [made.to], 'label-moved', made.moved);
      }
    }
    const count = told.moved + told.turned + told.smaller + (params.aside === 'layer' ? told.aside : 0);
    if (count === 0) return drawing;
    const words = [
      [told.moved, 'moved'],
      [told.turned, 'turned a quarter'],
      [told.smaller, 'made smaller'],
      [params.aside === 'layer' ? told.aside : 0, 'put aside'],
    ] as const;
    const said = words.flatMap(([k, what]) => (k > 0 ? `${k} ${what}` : []));
    tellChange(
      ctx,
      'text',
      count,
      because('labels-brought-in', { what: said.join(', ') }),
      movedBy(drawing, told.farthest),
    );
    const made = { ...drawing, entities };
    return told.aside > 0 && params.aside === 'layer' ? withLayer(made, params.layer) : made;
  },
});

type Label = Text | RichText;
const isLabel = (e: Entity): e is Label => (e.kind === 'text' && !e.along && !e.hidden) || e.kind === 'richText';

interface Placed {
  readonly to: Entity;
  readonly how: 'moved' | 'turned' | 'smaller';
  /** How far its farthest corner went. */
  readonly moved: number;
}

/** A label brought into its part: moved, else turned, else smaller; `null` where nothing of that helps. */
function within(
  label: Label,
  part: Part,
  found: PartsFound,
  drawing: Drawing,
  o: { margin: number; turn: boolean; least: number | null },
  ctx: StepContext,
): Placed | 'fits' | null {
  const own = entityToWorld(label, IDENTITY);
  const corners = textCorners(label, drawing, ctx.fonts).map(([x, y]) => applyPoint(own, [x, y, label.at[2]]));
  if (corners.length < 4) return 'fits';
  const [a, b, c] = corners as [P3, P3, P3, P3];
  // In the label's own directions, about its middle.
  const angle = Math.atan2(b[1] - a[1], b[0] - a[0]);
  const middle: readonly [number, number] = [(a[0] + c[0]) / 2, (a[1] + c[1]) / 2];
  const [width, height] = [Math.hypot(b[0] - a[0], b[1] - a[1]), Math.hypot(c[0] - b[0], c[1] - b[1])];
  const frame = compose(rotation(-angle), translation(-middle[0], -middle[1]));
  const room = roomOf(part, found, frame, drawing);
  if (fitsAt(room, 0, 0, width, height, o.margin)) return 'fits';
  const place = (to: readonly [number, number], turn: number, factor: number, how: Placed['how']): Placed => {
    const about = compose(rotation(turn), scaling(factor, factor, factor));
    const map = compose(
      translation(middle[0], middle[1]),
      compose(rotation(angle), compose(translation(to[0], to[1]), compose(about, frame))),
    );
    const moved = Math.max(...corners.map((p) => away(applyPoint(map, p), p)));
    const alone = transformDrawing({ ...drawing, entities: [label], blocks: new Map() }, map).entities[0]!;
    return { to: alone, how, moved };
  };
  const there = placeFor(room, [0, 0], width, height, o.margin);
  if (there) return place(there, 0, 1, 'moved');
  const turned = o.turn ? placeFor(room, [0, 0], height, width, o.margin) : null;
  if (turned) return place(turned, Math.PI / 2, 1, 'turned');
  if (o.least === null) return null;
  const least = o.least / height;
  if (least >= 1) return null;
  const upright = largestThatFits(room, [0, 0], width, height, o.margin, least);
  const across = o.turn ? largestThatFits(room, [0, 0], height, width, o.margin, least) : null;
  if (across && (!upright || across.factor > upright.factor * (1 + 1e-6)))
    return place(across.at, Math.PI / 2, across.factor, 'smaller');
  return upright && place(upright.at, 0, upright.factor, 'smaller');
}

type P3 = readonly [number, number, number];
const away = (p: readonly number[], q: readonly number[]): number => Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!);

/** The outline of a part, its holes and its marks as chords, as a map shows them. */
function roomOf(part: Part, { rings, visits }: PartsFound, map: Affine, drawing: Drawing): LabelRoom {
  const off = (x: number, y: number): readonly [number, number] => {
    const q = applyPoint(map, [x, y, 0]);
    return [q[0], q[1]];
  };
  const ofRing = (pieces: readonly Piece[]): Chord[] =>
    pieces.flatMap((q) => {
      const n = chordsFor(q, part.box.diagonal * CHORDS);
      return Array.from(
        { length: n },
        (_, k): Chord => [...off(...pointAt(q, k / n)), ...off(...pointAt(q, (k + 1) / n))] as never,
      );
    });
  const marks = part.marks.flatMap((m) => {
    const out: Chord[] = [];
    let last: readonly [number, number] = [0, 0];
    const { entity, toWorld } = visits[m]!;
    flattenEntity(entity, toWorld, extentOf(drawing).diagonal * CHORDS, {
      moveTo: (x, y) => void (last = off(x, y)),
      lineTo: (x, y) => {
        const next = off(x, y);
        out.push([...last, ...next] as never);
        last = next;
      },
    });
    return out;
  });
  return {
    outline: ofRing(rings[part.outer]!.pieces),
    obstacles: [...part.holes.flatMap((h) => ofRing(rings[h]!.pieces)), ...marks],
  };
}

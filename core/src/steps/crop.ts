import { selectedBy } from '../analysis/selection.js';
import { boundsOf } from '../drawing/bounds.js';
import { breakUp } from '../drawing/break-up.js';
import { entityOfRun, pathOfRun, runsOf } from '../drawing/courses.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { resolveRef } from '../drawing/entity-ref.js';
import { derive } from '../drawing/derive.js';
import { outlinePath } from '../drawing/outline-path.js';
import { entityToWorld } from '../drawing/curves.js';
import { checkStop } from '../formats/format.js';
import { IDENTITY, applyPoint } from '../geometry/affine.js';
import { newEffort } from '../geometry/crossings.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder, joinedPaths, transformPath } from '../geometry/path.js';
import { piecesOf } from '../geometry/path-pieces.js';
import { Region } from '../geometry/region.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { StepContext } from './step.js';
import { defineStep } from './step.js';

/** Keeps what lies within a frame or an outline, cut at its edge. */
export const crop = defineStep({
  id: 'crop',
  title: 'Crop',
  summary: 'Keeps what lies within a frame or an outline: curves are cut at the edge, fills closed along it.',
  carries: ['curves'],
  group: 'size',
  example: {
    drawing: exampleDrawing([sketch.circle(20, 14, 12), sketch.line(0, 0, 50, 28), sketch.line(60, 4, 60, 24)]),
    params: { corner: { x: 8, y: 4 }, opposite: { x: 40, y: 22 } },
  },
  params: {
    to: p.choice({
      title: 'Within',
      default: 'frame',
      choices: { frame: 'A frame', outline: 'An outline of the drawing' },
    }),
    corner: p.point({ when: { to: 'frame' }, title: 'One corner' }),
    opposite: p.point({ when: { to: 'frame' }, title: 'The opposite corner' }),
    outline: p.picked({ when: { to: 'outline' }, title: 'Outline', atMost: 1 }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    const path =
      params.to === 'frame' ? frameOf(params.corner, params.opposite) : pickedOutline(params.outline[0], drawing);
    if (!path) {
      ctx.leave(params.to === 'outline' && params.outline.length > 0 ? 'picked-curve-uncertain' : 'no-curve-picked');
      return drawing;
    }
    const region = new Region([{ path, rule: 'evenodd' }], newEffort());
    const wanted = selectedBy(params.which, drawing);
    const told = { cut: 0, gone: 0, broken: 0, whole: 0 };
    let nextId = drawing.nextId;
    const kept = (e: Entity, n: number): Entity[] => {
      if (n % 512 === 0) checkStop(ctx);
      if (e.sheet !== undefined || !wanted(e)) return [e];
      ctx.look();
      const made = within(e, region, drawing, told);
      if (made === 'same') return [e];
      if (made.length === 0) {
        told.gone++;
        ctx.lineage.remove(e, 'cropped-away');
        return [];
      }
      const out = made.map((m, i) => (i === 0 && e.kind !== 'insert' ? { ...m, id: e.id } : { ...m, id: nextId++ }));
      told.cut++;
      ctx.lineage.cut(e, out, 'cropped', path);
      return out;
    };
    const entities = drawing.entities.flatMap(kept);
    if (told.cut + told.gone === 0) return drawing;
    tell(told, ctx);
    return { ...drawing, entities, nextId };
  },
});

interface Told {
  cut: number;
  gone: number;
  broken: number;
  whole: number;
}

function tell(told: Told, ctx: StepContext): void {
  const put = (
    count: number,
    action: 'changed' | 'dropped',
    reason: 'cropped' | 'cropped-away' | 'crop-broke-up',
  ): void => {
    if (count > 0) ctx.ledger.add({ carryOver: 'curves', action, onPurpose: true, count, reason });
  };
  put(told.cut, 'changed', 'cropped');
  put(told.gone, 'dropped', 'cropped-away');
  put(told.broken, 'changed', 'crop-broke-up');
  if (told.whole > 0) ctx.leave('crop-kept-whole', undefined, told.whole);
}

const frameOf = (a: { x: number; y: number }, b: { x: number; y: number }): PathData | null =>
  a.x === b.x || a.y === b.y
    ? null
    : new PathBuilder().moveTo(a.x, a.y).lineTo(b.x, a.y).lineTo(b.x, b.y).lineTo(a.x, b.y).close().build();

function pickedOutline(ref: string | undefined, drawing: Drawing): PathData | null {
  const e = ref === undefined ? null : resolveRef(ref, drawing);
  const path = e && outlinePath(e);
  return path ? transformPath(path, entityToWorld(e, IDENTITY)) : null;
}

/** What of an entity lies within: the very same, nothing, or pieces. */
function within(e: Entity, region: Region, drawing: Drawing, told: Told): 'same' | Entity[] {
  const box = boundsOf({ ...drawing, entities: [e] }, { hidden: true });
  if (box.empty) return 'same';
  const side = region.side(box);
  if (side === 'in') return 'same';
  if (side === 'out') return [];
  if (e.kind === 'insert') {
    told.broken++;
    return breakUp(e, drawing, true).flatMap((part) => {
      const made = within(part, region, drawing, told);
      return made === 'same' ? [part] : made;
    });
  }
  if (e.kind === 'hatch') {
    if (e.normal) return byAnchor(box.minX, box.minY, region, told);
    const path = region.cutFill(joinedPaths(e.loops.map((l) => l.path)), 'evenodd');
    return path.cmds.length === 0
      ? []
      : [{ ...e, associative: false, loops: [{ path, flags: e.loops[0]?.flags ?? 3 }] }];
  }
  const runs = runsOf(e);
  if (!runs) {
    const at =
      'at' in e ? applyPoint(entityToWorld(e, IDENTITY), e.at) : [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    return byAnchor(at[0]!, at[1]!, region, told);
  }
  const path = joinedPaths(runs.map(pathOfRun));
  const filled = e.look.fill.kind !== 'none';
  const out: Entity[] = [];
  const flat = (data: PathData, look: Entity['look']): void => {
    if (data.cmds.length > 0)
      out.push(derive(e, out.length === 0 ? 'whole' : 'piece', { kind: 'path', path: data, look, normal: undefined }));
  };
  if (filled) {
    flat(region.cutFill(path, e.look.fillRule), { ...e.look, stroke: { kind: 'none' } });
    if (e.look.stroke.kind !== 'none') flat(region.cutLines(path), { ...e.look, fill: { kind: 'none' } });
    return out;
  }
  // Lines, arcs and the like stay what they are, piece by piece.
  for (const { pieces, closed } of piecesOf(region.cutLines(path), false)) {
    const made = entityOfRun(e, { pieces, closed, z: runs[0]!.z }, out.length === 0 ? 'whole' : 'piece');
    if (made) out.push(made);
  }
  return out;
}

/** What cannot be cut stays where it begins inside, and goes where it does not. */
function byAnchor(x: number, y: number, region: Region, told: Told): 'same' | Entity[] {
  if (!region.contains(x, y)) return [];
  told.whole++;
  return 'same';
}

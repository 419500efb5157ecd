import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, compose, determinant, planarSimilarity } from '../geometry/affine.js';
import type { PathData } from '../geometry/path.js';
import { fillLoops } from '../geometry/path.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { Descent, Stage } from '../drawing/lineage.js';
import { insertMatrix } from '../drawing/resolve.js';
import type { Vec3 } from '../geometry/vector.js';
import { flatDistance } from '../geometry/vector.js';
import { outlinePath } from '../drawing/outline-path.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { FontBook } from '../text/fonts.js';
import { drawnOtherwise } from './look-kept.js';
import { farthest } from './distance.js';
import type { MeasuredText, Measures } from './measure.js';
import { boundaries, measure } from './measure.js';
import { pairedTexts } from './paired-texts.js';
import { COINCIDENT, ROUNDING, UNSEEN } from '../geometry/tolerance.js';

/** What the preparing half of a proof found. */
export interface PreparedFindings {
  /** Entities that went, came or changed, and no operation says why. */
  unexplained: Departure[];
  /** Entities that do not lie where the operation that changed them says. */
  displaced: Departure[];
  /** How many went and how many came more than went, by what operations said. */
  gone: number;
  grown: number;
  /** The largest distance by which an operation says that curves moved, in the unit of what was prepared, and its stage. */
  stated: { within: number; title: string } | null;
  /** How many changed entities were measured, source against prepared. */
  measured: number;
}

export interface Departure {
  title: string;
  what: string;
  layer: string;
  /** How far off, beyond what was stated; `null` where nothing was measured. */
  off: number | null;
  at: { x: number; y: number } | null;
}

/** Curves are cut into chords this fine, as a part of what is measured; rounding stays far below. */
const FINENESS = 1e-5;
/** Where everything moved, chords are the same ones moved: only rounding parts them. */
const MOVED_FINENESS = UNSEEN;

/**
 * Holds each stage's drawing before against the one after. Entities that are the very same object are as they were; what
 * else differs must be in a descent or follow from the map, and must lie where that says, measured on curves and texts. Stages
 * must follow on each other without a gap, from the source to what was prepared.
 */
export function provePrepared(
  source: Drawing,
  prepared: Drawing,
  stages: readonly Stage[],
  fonts: FontBook,
  work?: Work,
): PreparedFindings {
  const out: PreparedFindings = { unexplained: [], displaced: [], gone: 0, grown: 0, stated: null, measured: 0 };
  let last = source;
  for (const stage of stages) {
    checkStop(work);
    followed(out, stage.map);
    proveStage(
      { title: 'between two steps', before: last, after: stage.before, map: IDENTITY, descents: [] },
      fonts,
      out,
      work,
    );
    proveStage(stage, fonts, out, work);
    last = stage.after;
  }
  proveStage(
    { title: 'after the last step', before: last, after: prepared, map: IDENTITY, descents: [] },
    fonts,
    out,
    work,
  );
  return out;
}

/** Places and distances that were found are told as they are in what was prepared, whatever moved or scaled it since. */
function followed(out: PreparedFindings, map: Affine): void {
  if (map === IDENTITY) return;
  const scale = planarSimilarity(map) ?? 1;
  for (const d of [...out.displaced, ...out.unexplained]) {
    if (d.off !== null) d.off *= scale;
    if (!d.at) continue;
    const p = applyPoint(map, [d.at.x, d.at.y, 0]);
    d.at = { x: p[0], y: p[1] };
  }
  if (out.stated) out.stated.within *= scale;
}

function proveStage(stage: Stage, fonts: FontBook, out: PreparedFindings, work?: Work): void {
  if (stage.before === stage.after) return;
  if (stage.map !== IDENTITY) return proveMoved(stage, fonts, out, work);
  const named = new Set<Entity>();
  for (const { from, to } of stage.descents) for (const e of [...from, ...to]) named.add(e);
  for (const key of containersOf(stage)) {
    const [before, after] = [entitiesIn(stage.before, key), entitiesIn(stage.after, key)];
    const [old, now] = [stage.before, stage.after].map((d) => (key === null ? undefined : d.blocks.get(key)));
    // A block that hangs by another point shows all that is in it elsewhere.
    if (old && now && old.entities.length > 0 && flatDistance(old.base, now.base) > 0)
      out.unexplained.push({
        title: stage.title,
        what: `block ${now.name} hangs by another point`,
        layer: '',
        off: flatDistance(old.base, now.base),
        at: null,
      });
    if (before === after) continue;
    const [had, have] = [new Set(before), new Set(after)];
    for (const e of before) if (!have.has(e) && !named.has(e)) unexplained(stage, e, 'is gone', out);
    for (const e of after) if (!had.has(e) && !named.has(e)) unexplained(stage, e, 'is new or was changed', out);
  }
  proveDescents(stage, fonts, out, work);
}

const containersOf = ({ before, after }: Stage): (string | null)[] => [
  null,
  ...new Set([...before.blocks.keys(), ...after.blocks.keys()]),
];
const entitiesIn = (d: Drawing, key: string | null): readonly Entity[] =>
  key === null ? d.entities : (d.blocks.get(key)?.entities ?? NONE);
const NONE: readonly Entity[] = [];

/** Every entity that a drawing holds, in model space, on sheets and in blocks. */
function allOf(d: Drawing): Set<Entity> {
  const all = new Set(d.entities);
  for (const b of d.blocks.values()) for (const e of b.entities) all.add(e);
  return all;
}

function proveDescents(stage: Stage, fonts: FontBook, out: PreparedFindings, work?: Work): void {
  if (stage.descents.length === 0) return;
  const [had, have] = [allOf(stage.before), allOf(stage.after)];
  const claimed = new Set<Entity>();
  for (const descent of stage.descents) {
    const { from, to, claim } = descent;
    // What a descent names must be there, once, and what it says is gone must be gone.
    for (const e of from) {
      if (!had.has(e)) unexplained(stage, e, 'is named as changed and was not there', out);
      if (claim.kind === 'gone' && have.has(e)) unexplained(stage, e, 'is named as gone and is there', out);
    }
    for (const e of descent.on ?? [])
      if (!had.has(e) || !have.has(e)) unexplained(stage, e, 'is named as what stays and does not', out);
    for (const e of to) {
      if (!have.has(e)) unexplained(stage, e, 'is named as made and is not there', out);
      if (claimed.has(e)) unexplained(stage, e, 'is named twice', out);
      claimed.add(e);
    }
    if (claim.kind === 'gone') out.gone += from.length;
    else if (claim.kind === 'placed' && claim.again) out.grown += to.length;
    else out.grown += to.length - from.length;
    if (claim.kind === 'gone' || claim.kind === 'made') continue;
    if (claim.kind === 'resized') {
      if (from.length !== 1 || to.length !== 1 || unsized(from[0]!) !== unsized(to[0]!))
        unexplained(stage, from[0]!, 'has more than its letters of another size', out);
      continue;
    }
    const otherwise = drawnOtherwise(descent);
    if (otherwise) unexplained(stage, otherwise, 'is drawn otherwise, or lies on another layer', out);
    if (++out.measured % 256 === 0) checkStop(work);
    const stated = 'within' in claim ? (claim.within ?? 0) : 0;
    if (stated > (out.stated?.within ?? 0)) out.stated = { within: stated, title: stage.title };
    const off = claim.kind !== 'placed' && isRestyled(descent) ? null : offBy(stage, descent, fonts);
    if (off) out.displaced.push({ title: stage.title, what: from[0]!.kind, layer: from[0]!.layer, ...off });
  }
}

/** All that an entity says but the sizes of its letters and, for a dimension, the picture that shows them. */
function unsized(e: Entity): string {
  const own = { ...e } as Record<string, unknown>;
  if (e.kind === 'text' || e.kind === 'richText') for (const name of SIZES) delete own[name];
  if (e.kind === 'dimension') delete own['picture'];
  if (e.kind === 'insert') own['attributes'] = e.attributes.map(unsized);
  return JSON.stringify(own);
}
const SIZES = ['size', 'spacing', 'width'];

/** Fields that do not say where an entity lies. */
const STYLE = new Set(['layer', 'look', 'node', 'rest', 'extended', 'key', 'data', 'clipTo', 'classes', 'id']);

/** One entity became one that differs in nothing that says where it lies. */
function isRestyled({ from, to }: Descent): boolean {
  if (from.length !== 1 || to.length !== 1) return false;
  const [a, b] = [from[0] as unknown as Record<string, unknown>, to[0] as unknown as Record<string, unknown>];
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every((k) => STYLE.has(k) || a[k] === b[k]);
}

/**
 * Entities of a drawing as a drawing of their own. What lies on a sheet is measured as if it lay in model space. Without layers,
 * which say nothing of where curves and texts lie, and of which there may be as many as entities.
 */
const only = (drawing: Drawing, entities: readonly Entity[]): Drawing => ({
  ...drawing,
  layers: [],
  entities: entities.map((e) => (e.sheet === undefined ? e : ({ ...e, sheet: undefined } as Entity))),
});

/** How far off, beyond what is claimed; `null` where it holds. */
function offBy(
  stage: Stage,
  { code, from, to, claim, on = [], edges = [] }: Descent,
  fonts: FontBook,
): Pick<Departure, 'off' | 'at'> | null {
  const source =
    claim.kind === 'outline'
      ? from.map(plainHatch)
      : claim.kind === 'part'
        ? [...from.flatMap(withBoundaries), ...edges.map((path) => boundaryOf(from[0]!, path))]
        : from;
  const [before, after] = [only(stage.before, source), only(stage.after, to)];
  const box = boundsOf(before, { hidden: true });
  const size = box.empty ? 1 : box.diagonal || 1;
  const far = box.empty ? 0 : Math.max(...[box.minX, box.minY, box.maxX, box.maxY].map(Math.abs));
  const tolerance = Math.max(size * FINENESS, far * ROUNDING);
  if (claim.kind === 'warped') return strayFromMap(before, after, claim, fonts);
  const a = measure(before, claim.kind === 'placed' ? claim.map : 1, tolerance, fonts);
  const b = measure(after, 1, tolerance, fonts);
  const around = on.length > 0 ? measure(only(stage.after, [...to, ...on]), 1, tolerance, fonts) : b;
  if (claim.kind === 'lettered') return strayFrom(a, b);
  const within = ('within' in claim ? (claim.within ?? 0) : 0) + 3 * tolerance;
  const lies =
    code === 'regions-built' && on.length > 0
      ? measure(only(stage.before, [...source, ...on]), 1, tolerance, fonts)
      : a;
  const back = farthest(b.chords, boundaries(lies), tolerance);
  const out = claim.kind === 'part' ? back : farthest(a.chords, boundaries(around), tolerance);
  const gaps = claim.kind === 'kept' ? (claim.gaps ?? 0) : 0;
  const worst = out.distance - gaps > back.distance ? { ...out, distance: out.distance - gaps } : back;
  // Nothing on one side and nothing on the other is as it should be: texts have no chords.
  if (worst.distance > within) return { off: worst.distance, at: { x: worst.x, y: worst.y } };
  if (claim.kind !== 'kept' && claim.kind !== 'placed') return null;
  if (claim.kind === 'kept' && from.length === 1 && to.length === 1) {
    const off = anchorsApart(from[0]!, to[0], IDENTITY, stage.before, stage.after);
    if (off > within) return { off, at: null };
  }
  const own = (m: Measures): MeasuredText[] =>
    claim.kind === 'kept' && claim.remeasured ? m.texts.filter((t) => !t.ofDimension) : m.texts;
  const texts = pairedTexts(own(a), own(b), within);
  if (texts.missing.length > 0 || texts.extra > 0 || texts.farthestMove > within)
    return { off: texts.farthestMove, at: placeOf(a.texts[0] ?? b.texts[0]) };
  return null;
}

/** How far curves lie from where a map takes those before, both ways. */
function strayFromMap(
  before: Drawing,
  after: Drawing,
  { within, map }: Extract<Descent['claim'], { kind: 'warped' }>,
  fonts: FontBook,
): Pick<Departure, 'off' | 'at'> | null {
  const box = boundsOf(after, { hidden: true });
  if (box.empty) return { off: Infinity, at: null };
  const far = Math.max(...[box.minX, box.minY, box.maxX, box.maxY].map(Math.abs));
  const tolerance = Math.max(box.diagonal * FINENESS, far * ROUNDING);
  const a = boundaries(measure(before, 1, tolerance, fonts));
  const b = boundaries(measure(after, 1, tolerance, fonts));
  const mapped = mappedChords(a, map, tolerance);
  const [out, back] = [farthest(mapped, b, tolerance), farthest(b, mapped, tolerance)];
  const worst = out.distance > back.distance ? out : back;
  return worst.distance > within + 3 * tolerance ? { off: worst.distance, at: { x: worst.x, y: worst.y } } : null;
}

/** Chords where a map takes them, cut so finely that each is straight there too. */
function mappedChords(
  chords: Float64Array,
  map: (x: number, y: number) => readonly [number, number],
  tolerance: number,
): Float64Array {
  const out: number[] = [];
  for (let i = 0; i < chords.length; i += 4) {
    const [x0, y0, x1, y1] = chords.subarray(i, i + 4) as unknown as [number, number, number, number];
    const at = (t: number): readonly [number, number] => map(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t);
    const cut = (
      t0: number,
      t1: number,
      p: readonly [number, number],
      q: readonly [number, number],
      depth: number,
    ): void => {
      const m = at((t0 + t1) / 2);
      if (depth <= 0 && (depth <= -12 || Math.hypot(m[0] - (p[0] + q[0]) / 2, m[1] - (p[1] + q[1]) / 2) <= tolerance)) {
        out.push(...p, ...q);
        return;
      }
      cut(t0, (t0 + t1) / 2, p, m, depth - 1);
      cut((t0 + t1) / 2, t1, m, q, depth - 1);
    };
    cut(0, 1, at(0), at(1), 3);
  }
  return Float64Array.from(out);
}

/** A path drawn like an entity. */
const boundaryOf = (e: Entity, path: PathData): Entity => ({
  kind: 'path',
  id: e.id,
  layer: e.layer,
  look: e.look,
  path,
});

/**
 * What the pieces of a shape that was cut may be bounded by: the shape itself, closed as its fill is, and the shapes that it
 * was cut to.
 */
function withBoundaries(e: Entity): Entity[] {
  const boundary = (path: PathData): Entity => boundaryOf(e, path);
  const outline = e.clipTo ? outlinePath(e) : null;
  const out = [e, ...(outline ? fillLoops(outline).map(boundary) : [])];
  for (let clip = e.clipTo; clip; clip = clip.within)
    for (const { path } of clip.shapes) out.push(...fillLoops(path).map(boundary));
  return out;
}

/** A hatch by its boundary alone. */
function plainHatch(e: Entity): Entity {
  if (e.kind !== 'hatch') return e;
  const { lines: _l, gradient: _g, ...plain } = e;
  return { ...plain, solid: true };
}

/** Letters stand where their text does: the box around them, widened by their height, holds where a line begins. */
function strayFrom(a: Measures, b: Measures): Pick<Departure, 'off' | 'at'> | null {
  if (b.box.empty) return null;
  for (const t of a.texts) {
    const room = 3 * t.height;
    const dx = Math.max(b.box.minX - room - t.x, t.x - b.box.maxX - room, 0);
    const dy = Math.max(b.box.minY - room - t.y, t.y - b.box.maxY - room, 0);
    if (dx > 0 || dy > 0) return { off: Math.hypot(dx, dy), at: placeOf(t) };
  }
  return null;
}

const placeOf = (t: MeasuredText | undefined): { x: number; y: number } | null => (t ? { x: t.x, y: t.y } : null);

/** Everything was moved by a map: each entity is what it was, moved, in the same order. */
function proveMoved(stage: Stage, fonts: FontBook, out: PreparedFindings, work?: Work): void {
  const { before, after, map } = stage;
  for (const key of containersOf(stage)) {
    const [had, have] = [entitiesIn(before, key), entitiesIn(after, key)];
    for (const e of had.slice(have.length)) unexplained(stage, e, 'is gone', out);
    for (const e of have.slice(had.length)) unexplained(stage, e, 'is new', out);
    // What is not understood may come back as what shows it.
    had.slice(0, have.length).forEach((e, i) => {
      const to = have[i]!;
      if (e.kind !== 'opaque' && (e.kind !== to.kind || e.id !== to.id))
        unexplained(stage, e, `became a ${to.kind}`, out);
      else if (e.sheet !== undefined && !staysOnSheet(e, to))
        unexplained(stage, e, 'was changed on its sheet, where nothing moves', out);
    });
  }
  const follows = (d: Drawing): Drawing => ({
    ...d,
    entities: d.entities.filter((_, i) => before.entities[i]?.kind !== 'opaque'),
  });
  const size = boundsOf(follows(after), { hidden: true });
  const tolerance = (size.empty ? 1 : size.diagonal || 1) * MOVED_FINENESS;
  const a = measure(follows(before), map, tolerance, fonts, work);
  const b = measure(follows(after), 1, tolerance, fonts, work);
  out.measured += after.entities.length;
  for (const worst of [
    farthest(a.chords, boundaries(b), tolerance, work),
    farthest(b.chords, boundaries(a), tolerance, work),
  ]) {
    if (worst.distance <= 3 * tolerance) continue;
    out.displaced.push({
      title: stage.title,
      what: 'curve',
      layer: '',
      off: worst.distance,
      at: { x: worst.x, y: worst.y },
    });
    return;
  }
  const off = before.entities.reduce(
    (most, e, i) => Math.max(most, anchorsApart(e, after.entities[i], map, before, after)),
    0,
  );
  if (off > 3 * tolerance) {
    out.displaced.push({ title: stage.title, what: 'insert or point', layer: '', off, at: null });
    return;
  }
  // A curve that another lies on hides where it moved along it: lengths do not.
  for (const [key, length, found] of lengthsOf(a, b)) {
    const off = Math.abs(found - length);
    if (off <= tolerance + length * COINCIDENT) continue;
    out.displaced.push({ title: stage.title, what: 'curve', layer: key.split('\t')[0]!, off, at: null });
    return;
  }
  // The numbers of dimensions follow a scale, and what is mirrored stays readable, a little beside its place.
  const own = (m: Measures): MeasuredText[] => (isShift(map) ? m.texts : m.texts.filter((t) => !t.ofDimension));
  const room = determinant(map) < 0 ? 3 * a.texts.reduce((most, t) => Math.max(most, t.height), 0) : 3 * tolerance;
  const texts = pairedTexts(own(a), own(b), room);
  if (texts.missing.length > 0 || texts.extra > 0 || texts.farthestMove > room)
    out.displaced.push({
      title: stage.title,
      what: 'text',
      layer: '',
      off: texts.farthestMove,
      at: placeOf(a.texts[0]),
    });
}

/** Paper does not move with the model: what lies on a sheet is the very same, and a window there only looks elsewhere. */
function staysOnSheet(e: Entity, to: Entity): boolean {
  if (e.kind !== 'viewport' || to.kind !== 'viewport') return e === to;
  return e.sheet === to.sheet && flatDistance(e.at, to.at) === 0 && e.width === to.width && e.height === to.height;
}

/** How far what has no curves of its own came to lie from where the map takes it: the axes of inserts, and points. */
function anchorsApart(e: Entity, to: Entity | undefined, map: Affine, before: Drawing, after: Drawing): number {
  if (e.sheet !== undefined || to === undefined) return 0;
  if (e.kind === 'point' && to.kind === 'point') return flatDistance(applyPoint(map, e.at), to.at);
  if (e.kind !== 'insert' || to.kind !== 'insert') return 0;
  const [a, b] = [e, to].map((x, i) => insertMatrix(x, (i === 0 ? before : after).blocks.get(x.block.toLowerCase())));
  const whole = compose(map, a!);
  return AXES.reduce((most, p) => Math.max(most, flatDistance(applyPoint(whole, p), applyPoint(b!, p))), 0);
}
const AXES: readonly Vec3[] = [
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
];

/** By layer and colour: the length of lines, and around fills, that was expected and found. */
const lengthsOf = (a: Measures, b: Measures): [string, number, number][] =>
  (['strokes', 'fills'] as const).flatMap((of) =>
    [...a[of]].map(([key, length]): [string, number, number] => [key, length, b[of].get(key) ?? 0]),
  );

const isShift = (m: Affine): boolean => planarSimilarity(m) === 1 && determinant(m) > 0;

function unexplained(stage: Stage, e: Entity, what: string, out: PreparedFindings): void {
  out.unexplained.push({ title: stage.title, what: `${e.kind} ${what}`, layer: e.layer, off: null, at: null });
}

import { Box2 } from '../geometry/box.js';
import { PlaceGrid } from '../geometry/place-grid.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { boundsOf } from '../drawing/bounds.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { IDENTITY } from '../geometry/affine.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { EntityShape } from '../drawing/entity-shape.js';
import { shapeOf } from '../drawing/entity-shape.js';
import { COINCIDENT } from '../geometry/tolerance.js';

/** Something that is otherwise in the later of two drawings. Ids are those of entities before and after. */
export interface Difference {
  what: 'new' | 'gone' | 'moved' | 'changed';
  /** What changed, in words; for what moved, how many things and how far. */
  words: string;
  kind: Entity['kind'];
  layer: string;
  /** Where to look, in the drawing's coordinates: in the later drawing, or in the earlier for what is gone. */
  at: { x: number; y: number };
  size: number;
  before: number[];
  after: number[];
}

export interface Comparison {
  /** Entities that are the same in both. */
  same: number;
  differences: Difference[];
  /** Names of layers that came and went. */
  layers: { added: string[]; gone: string[] };
}

interface Item {
  entity: Entity;
  shape: EntityShape;
  /** Layer and look, to tell what only looks different. */
  look: string;
  matched: boolean;
}

/**
 * Compares model space of two drawings in the same unit and coordinates, entity by entity: what is new, gone, moved (the
 * same shape elsewhere) or changed (the same place or the same name of origin, but another layer, look, text or shape).
 * `within` is how far places may differ and still be the same; absent for a thousand-millionth of the larger diagonal.
 */
export function compareDrawings(before: Drawing, after: Drawing, within?: number, work?: Work): Comparison {
  const grain =
    within ??
    (Math.max(boundsOf(before, { hidden: true }).diagonal, boundsOf(after, { hidden: true }).diagonal) * COINCIDENT ||
      COINCIDENT);
  const old = itemsOf(before);
  checkStop(work);
  const now = itemsOf(after);
  checkStop(work);
  const out: Difference[] = [];
  const same = matchInPlace(old, now, grain, out);
  work?.onProgress?.(0.5);
  checkStop(work);
  const moves: Move[] = [];
  matchByKey(old, now, grain, out, moves);
  matchElsewhere(old, now, grain, moves);
  out.push(...movedTogether(moves, grain));
  for (const i of old) if (!i.matched) out.push(told('gone', i, 'gone', [i.entity.id], []));
  for (const i of now) if (!i.matched) out.push(told('new', i, 'new', [], [i.entity.id]));
  const names = (d: Drawing): Map<string, string> => new Map(d.layers.map((l) => [l.name.toLowerCase(), l.name]));
  const [a, b] = [names(before), names(after)];
  return {
    same,
    differences: out.sort((p, q) => ORDER.indexOf(p.what) - ORDER.indexOf(q.what)),
    layers: {
      added: [...b].filter(([k]) => !a.has(k)).map(([, n]) => n),
      gone: [...a].filter(([k]) => !b.has(k)).map(([, n]) => n),
    },
  };
}

/** Two items of one shape, and how far the later lies from the earlier. */
interface Move {
  o: Item;
  n: Item;
  dx: number;
  dy: number;
}

const ORDER: readonly Difference['what'][] = ['changed', 'moved', 'new', 'gone'];

function itemsOf(d: Drawing): Item[] {
  const blocks = new Map<string, string>();
  return d.entities
    .filter((e) => e.sheet === undefined)
    .map((entity) => ({ entity, shape: shapeOf(entity, d, blocks), look: lookOf(entity), matched: false }));
}

const lookOf = (e: Entity): string =>
  JSON.stringify([e.look.stroke, e.look.fill, e.look.width, e.look.dash, e.look.opacity, e.look.visible]);

function told(what: Difference['what'], i: Item, words: string, before: number[], after: number[]): Difference {
  const sink = new BoundsSink();
  addEntityBounds(i.entity, IDENTITY, sink);
  const { box } = sink;
  const p = i.shape.places;
  // What is shown by its parts is known by the places it is made from.
  if (box.empty) for (let k = 0; k + 2 < p.length; k += 3) box.add(p[k]!, p[k + 1]!);
  const at = box.empty ? { x: 0, y: 0 } : { x: (box.minX + box.maxX) / 2, y: (box.minY + box.maxY) / 2 };
  const size = box.empty ? 0 : box.diagonal;
  return { what, words, kind: i.entity.kind, layer: i.entity.layer, at, size, before, after };
}

/** Whether two shapes are the same once the second is shifted back by (dx, dy, dz). */
function alike(a: EntityShape, b: EntityShape, grain: number, dx = 0, dy = 0, dz = 0): boolean {
  if (a.words !== b.words || a.places.length !== b.places.length || a.rest.length !== b.rest.length) return false;
  for (let i = 0; i < a.rest.length; i++) {
    const [p, q] = [a.rest[i], b.rest[i]];
    if (Math.abs(p! - q!) > Math.max(grain, COINCIDENT * Math.abs(p!))) return false;
  }
  for (let i = 0; i < a.places.length; i += 3) {
    if (Math.abs(a.places[i]! - b.places[i]! + dx) > grain) return false;
    if (Math.abs(a.places[i + 1]! - b.places[i + 1]! + dy) > grain) return false;
    if (Math.abs(a.places[i + 2]! - b.places[i + 2]! + dz) > grain) return false;
  }
  return true;
}

const firstX = (i: Item): number => i.shape.places[0] ?? 0;
const firstY = (i: Item): number => i.shape.places[1] ?? 0;

/** Pairs what is in the same place; tells of those that only look different. Returns how many are the same. */
function matchInPlace(old: Item[], now: Item[], grain: number, out: Difference[]): number {
  const grid = PlaceGrid.of(old, firstX, firstY, 2 * grain);
  let same = 0;
  for (const n of now) {
    let best: Item | null = null;
    grid.near(firstX(n), firstY(n), (k) => {
      const o = old[k]!;
      if (o.matched || !alike(o.shape, n.shape, grain)) return false;
      // Of several that lie on each other the one that looks the same too.
      const whole = o.look === n.look && o.entity.layer === n.entity.layer;
      if (whole || !best) best = o;
      return whole;
    });
    const found = best as Item | null;
    if (!found) continue;
    found.matched = n.matched = true;
    if (found.entity.layer !== n.entity.layer)
      out.push(
        told(
          'changed',
          n,
          `layer “${found.entity.layer}” is now “${n.entity.layer}”`,
          [found.entity.id],
          [n.entity.id],
        ),
      );
    else if (found.look !== n.look)
      out.push(told('changed', n, 'colour, width or dashes', [found.entity.id], [n.entity.id]));
    else same++;
  }
  return same;
}

/** Pairs what has kept its handle or id, is of the same kind, and lies where the other does or says the same. */
function matchByKey(old: Item[], now: Item[], grain: number, out: Difference[], moves: Move[]): void {
  const byKey = new Map(old.filter((i) => !i.matched && i.entity.key).map((i) => [i.entity.key!, i]));
  for (const n of now) {
    const o = !n.matched && n.entity.key ? byKey.get(n.entity.key) : undefined;
    if (!o || o.matched || o.entity.kind !== n.entity.kind) continue;
    const [a, b] = [o.shape, n.shape];
    const shift = shiftOf(a, b);
    if (shift && alike(a, b, grain, ...shift)) {
      o.matched = n.matched = true;
      moves.push({ o, n, dx: shift[0], dy: shift[1] });
      continue;
    }
    // A handle given anew to something else lies elsewhere.
    const away = Math.hypot(firstX(o) - firstX(n), firstY(o) - firstY(n));
    const size = Math.max(told('new', o, '', [], []).size, told('new', n, '', [], []).size, textSize(o), textSize(n));
    if (a.words !== b.words ? away > 3 * size + grain : away > size + grain) continue;
    o.matched = n.matched = true;
    out.push(told('changed', n, changeWords(o, n), [o.entity.id], [n.entity.id]));
  }
}

const textSize = ({ entity: e }: Item): number => (e.kind === 'text' || e.kind === 'richText' ? e.size * 4 : 0);

function changeWords(o: Item, n: Item): string {
  const [a, b] = [o.entity, n.entity];
  const short = (t: string): string => `“${t.replace(/\s+/g, ' ').slice(0, 40)}”`;
  if (a.kind === 'text' && b.kind === 'text' && a.text !== b.text) return `${short(a.text)} is now ${short(b.text)}`;
  if (a.kind === 'richText' && b.kind === 'richText' && a.plain !== b.plain)
    return `${short(a.plain)} is now ${short(b.plain)}`;
  if (a.kind === 'dimension' && b.kind === 'dimension' && a.override !== b.override)
    return `its text ${short(a.override || '<>')} is now ${short(b.override || '<>')}`;
  if (a.kind === 'insert' && b.kind === 'insert') {
    if (a.block !== b.block) return `block ${short(a.block)} is now ${short(b.block)}`;
    return o.shape.words === n.shape.words ? 'its size or turn' : 'its block or attributes were redrawn';
  }
  return 'its shape';
}

const shiftOf = (a: EntityShape, b: EntityShape): [number, number, number] | null =>
  a.places.length === b.places.length && a.places.length >= 3
    ? [b.places[0]! - a.places[0]!, b.places[1]! - a.places[1]!, b.places[2]! - a.places[2]!]
    : null;

/** How many look-alikes are tried for one thing. */
const MOST_TRIED = 256;

/** Pairs what has the same shape somewhere else, the nearest first among the first that are tried. */
function matchElsewhere(old: Item[], now: Item[], grain: number, moves: Move[]): void {
  const rest = old.filter((i) => !i.matched && i.shape.places.length >= 3);
  if (rest.length === 0) return;
  // Sums of what does not change when a thing is moved: near each other for those that can be the same.
  const sum = (i: Item, k: 0 | 1): number => {
    const { places: p, rest: r } = i.shape;
    let s = k === 0 ? (r[0] ?? 0) : p.length;
    for (let j = k; j < p.length; j += 3) s += Math.abs(p[j]! - p[k]!);
    return s;
  };
  const longest = Math.max(...rest.map((i) => i.shape.places.length));
  const grid = PlaceGrid.of(
    rest,
    (i) => sum(i, 0),
    (i) => sum(i, 1),
    grain * Math.min(longest, 2000),
  );
  for (const n of now) {
    if (n.matched || n.shape.places.length < 3) continue;
    let best: Item | null = null;
    let least = Infinity;
    let tried = 0;
    grid.near(sum(n, 0), sum(n, 1), (k) => {
      const o = rest[k]!;
      const shift = o.matched || o.entity.layer !== n.entity.layer ? null : shiftOf(o.shape, n.shape);
      if (!shift) return false;
      const away = Math.hypot(shift[0], shift[1]);
      if (away < least && alike(o.shape, n.shape, grain, ...shift)) [best, least] = [o, away];
      return ++tried > MOST_TRIED;
    });
    const found = best as Item | null;
    if (!found) continue;
    found.matched = n.matched = true;
    const [dx, dy] = shiftOf(found.shape, n.shape)!;
    moves.push({ o: found, n, dx, dy });
  }
}

/** What moved by the same way is told once. */
function movedTogether(moves: readonly Move[], grain: number): Difference[] {
  const groups = new Map<string, Move[]>();
  const step = 8 * grain;
  for (const m of moves) {
    const key = `${Math.round(m.dx / step)} ${Math.round(m.dy / step)}`;
    const list = groups.get(key);
    if (list) list.push(m);
    else groups.set(key, [m]);
  }
  const number = (v: number): string => String(Number(v.toPrecision(6)));
  return [...groups.values()].map((list) => {
    const box = new Box2();
    for (const { n } of list) {
      const { at, size } = told('moved', n, '', [], []);
      box.add(at.x - size / 2, at.y - size / 2);
      box.add(at.x + size / 2, at.y + size / 2);
    }
    const { n, dx, dy } = list[0]!;
    const by = `moved by ${number(dx)}, ${number(dy)}`;
    return {
      what: 'moved',
      words: list.length === 1 ? by : `${list.length} objects ${by}`,
      kind: n.entity.kind,
      layer: n.entity.layer,
      at: { x: (box.minX + box.maxX) / 2, y: (box.minY + box.maxY) / 2 },
      size: box.diagonal,
      before: list.map((m) => m.o.entity.id),
      after: list.map((m) => m.n.entity.id),
    };
  });
}

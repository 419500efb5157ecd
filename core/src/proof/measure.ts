import type { Piece } from '../geometry/path-pieces.js';
import { endOf, piecesOf, startOf } from '../geometry/path-pieces.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, applyVector, compose, scaling } from '../geometry/affine.js';
import { TAU, chordCount } from '../geometry/arcs.js';
import { joinedDoubles } from '../geometry/joined-doubles.js';
import { Box2 } from '../geometry/box.js';
import type { Vec3 } from '../geometry/vector.js';
import { rayWithin } from '../drawing/rays.js';
import { entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Circle, Entity, EntityKind } from '../drawing/entity.js';
import { outlinePath } from '../drawing/outline-path.js';
import { fillLoops } from '../geometry/path.js';
import { curveKey } from '../drawing/ledger.js';
import { BoundsSink, addEntityBounds, lengthOf } from '../drawing/measures.js';
import { hatchLines } from '../drawing/hatch-area.js';
import { hex } from '../drawing/palette.js';
import { walk } from '../drawing/resolve.js';
import type { ChordSink } from '../drawing/flatten.js';
import { flattenMeasured } from './flatten-measured.js';
import type { FontBook } from '../text/fonts.js';
import type { TextLine } from '../text/layout.js';
import { lineMatrix, linesOf, ownRgb } from '../text/layout.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import { ROUNDING } from '../geometry/tolerance.js';

export interface MeasuredText {
  text: string;
  x: number;
  y: number;
  /** Height of capitals. */
  height: number;
  /** It is part of what shows a dimension. */
  ofDimension: boolean;
}

/** Everything about a drawing that a proof compares, in one unit, y upwards. */
export interface Measures {
  box: Box2;
  kinds: Partial<Record<EntityKind, number>>;
  layers: string[];
  /** Stroke length by layer and colour (`curveKey`). */
  strokes: Map<string, number>;
  /** Length of fill boundaries by layer and colour. */
  fills: Map<string, number>;
  texts: MeasuredText[];
  textColours: Map<string, number>;
  /** x0 y0 x1 y1 per chord. */
  chords: Float64Array;
  /** The same of the lines that close what is filled and left open. Nobody draws them, so none has to be found again. */
  closings: Float64Array;
  /** Names of blocks that are inserted. */
  blocks: Map<string, number>;
}

export interface MeasureOptions {
  /** Filled faces side by side count as the area they fill together, as a fill that is written in corners has to be seen. */
  joinFaces?: boolean;
  /** A text stands where its first letter does, and says what the fonts at hand have letters for (`FormatTraits.lettersPlaced`). */
  lettersPlaced?: boolean;
  /** Pictures go into the file: one that a drawing holds shows itself, and no line around it. */
  picturesHeld?: boolean;
}

/** What letters of a line can be seen, blanks as one, and where the first stands in the plane of the text. */
function placedLine(line: TextLine, fonts: FontBook): { text: string; at: { x: number; y: number } } {
  const { advance, missing } = fonts.outline(line.text, line.family, line.weight, line.italic);
  const m = lineMatrix(line, advance);
  const seen = missing.reduce((text, letter) => text.replaceAll(letter, ' '), line.text);
  const before = seen.length - seen.trimStart().length;
  const shift = before > 0 ? fonts.outline(seen.slice(0, before), line.family, line.weight, line.italic).advance : 0;
  const [x, y] = applyPoint(m, [shift, 0, 0]);
  return { text: seen.trim().replace(/\s+/g, ' '), at: { x, y } };
}

/** Measures model space, hidden content included, every coordinate multiplied by a factor or moved by a map. */
export function measure(
  drawing: Drawing,
  by: number | Affine,
  tolerance: number,
  fonts: FontBook,
  work?: Work,
  { joinFaces = true, lettersPlaced = false, picturesHeld = false }: MeasureOptions = {},
): Measures {
  const moved: Affine = typeof by === 'number' ? scaling(by, by, by) : by;
  const stays = by === 1 || by === IDENTITY;
  const bounds = new BoundsSink();
  const out: Measures = {
    box: bounds.box,
    kinds: {},
    layers: drawing.layers.map((l) => l.name),
    strokes: new Map(),
    fills: new Map(),
    texts: [],
    textColours: new Map(),
    chords: new Float64Array(0),
    closings: new Float64Array(0),
    blocks: new Map(),
  };
  // By layer, so that what two files hold comes in the same order whatever order they hold it in.
  const byLayer = new Map<string, Growing>();
  let chords = new Growing();
  const closed = new Growing();
  const onLayer = (layer: string): void => {
    const key = layer.toLowerCase();
    let own = byLayer.get(key);
    if (!own) byLayer.set(key, (own = new Growing()));
    chords = own;
  };
  const faces = new FilledFaces(joinFaces);
  const rays: { at: Vec3; direction: Vec3; both: boolean; colour: string }[] = [];
  const tally = (map: Map<string, number>, key: string, by: number): void =>
    void map.set(key, (map.get(key) ?? 0) + by);
  let n = 0;
  let px = 0;
  let py = 0;
  const sink = {
    moveTo: (x: number, y: number): void => {
      px = x;
      py = y;
    },
    lineTo: (x: number, y: number): void => {
      chords.push(px, py, x, y);
      px = x;
      py = y;
    },
  };
  walk(
    drawing,
    ({ entity: e, toWorld, resolved, top }) => {
      if (++n % 4096 === 0) checkStop(work);
      out.kinds[e.kind] = (out.kinds[e.kind] ?? 0) + 1;
      if (e.kind === 'insert') return tally(out.blocks, e.block, 1);
      if (e.kind === 'opaque') return;
      const m = stays ? toWorld : compose(moved, toWorld);
      onLayer(resolved.layer);
      if (e.kind === 'text' || e.kind === 'richText') {
        const plane = entityToWorld(e, m);
        const colour = hex(resolved.fill ?? resolved.stroke ?? 0);
        for (const line of linesOf(e, drawing, fonts)) {
          if (line.text.trim() === '') continue;
          const { text, at } = lettersPlaced ? placedLine(line, fonts) : { text: line.text.trim(), at: line };
          const p = applyPoint(plane, [at.x, at.y, 0]);
          const up = Math.hypot(plane[3], plane[4]);
          out.texts.push({
            text,
            x: p[0],
            y: p[1],
            height: line.em * fonts.capital(line.family) * up,
            ofDimension: top.kind === 'dimension',
          });
          const own = ownRgb(line);
          tally(out.textColours, own === null ? colour : hex(own), text.length);
        }
        return;
      }
      if (e.kind === 'ray') {
        const colour = curveKey(resolved.layer, hex(resolved.stroke ?? 0));
        rays.push({ at: applyPoint(m, e.at), direction: applyVector(m, e.direction), both: e.both, colour });
        return;
      }
      const pattern = e.kind === 'hatch' ? hatchLines(e) : null;
      // Of a pattern its lines are drawn, not the boundary they end at.
      if (!pattern) addEntityBounds(e, m, bounds);
      if (e.kind === 'face' && e.solid) {
        const key = curveKey(resolved.layer, hex(resolved.fill ?? resolved.stroke ?? 0));
        faces.add(
          e.corners.map((c) => applyPoint(entityToWorld(e, m), c)),
          key,
        );
        return;
      }
      if (e.kind === 'hatch' && pattern) {
        const plane = entityToWorld(e, m);
        const key = curveKey(resolved.layer, hex(resolved.fill ?? resolved.stroke ?? 0));
        let drawn = 0;
        const s = pattern.segments;
        for (let i = 0; i < s.length; i += 4) {
          const a = applyPoint(plane, [s[i]!, s[i + 1]!, e.elevation]);
          const b = applyPoint(plane, [s[i + 2]!, s[i + 3]!, e.elevation]);
          chords.push(a[0], a[1], b[0], b[1]);
          out.box.add(a[0], a[1]);
          out.box.add(b[0], b[1]);
          drawn += Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
        }
        tally(out.strokes, key, drawn);
        return;
      }
      const held = picturesHeld && e.kind === 'image' && e.data !== undefined && !e.cover;
      const filled = !held && (e.kind === 'hatch' || resolved.fill !== null);
      const stroked = !held && e.kind !== 'hatch' && resolved.stroke !== null;
      const turn = e.kind === 'circle' && wholeTurn(e, m, tolerance, sink);
      const length = turn ? lengthOf(e, m) : flattenMeasured(e, m, tolerance, sink);
      if (stroked) tally(out.strokes, curveKey(resolved.layer, hex(resolved.stroke ?? 0)), length);
      if (filled) for (const [a, b] of closings(e, m)) closed.push(a[0], a[1], b[0], b[1]);
      const area = filled ? fillLength(e, m) : 0;
      if (area > 0) tally(out.fills, curveKey(resolved.layer, hex(resolved.fill ?? resolved.stroke ?? 0)), area);
    },
    { hidden: true },
  );
  onLayer('');
  faces.boundary((a, b, key) => {
    chords.push(a[0], a[1], b[0], b[1]);
    tally(out.fills, key, Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]));
  });
  // Lines without end count as far as the drawing reaches.
  for (const { at, direction, both, colour } of rays) {
    const ends = rayWithin(at, direction, both, out.box);
    if (!ends) continue;
    const [a, b] = ends;
    chords.push(a[0], a[1], b[0], b[1]);
    tally(out.strokes, colour, Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]));
  }
  out.chords = joinedDoubles([...byLayer].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, own]) => own.done()));
  out.closings = closed.done();
  return out;
}

/** The chords that curves of another drawing may lie on: what is drawn, and what closes fills. */
export const boundaries = ({ chords, closings }: Measures): Float64Array =>
  closings.length === 0 ? chords : joinedDoubles([chords, closings]);

const isStraight = (p: Piece): boolean => p.kind === 'bezier' && p.p.length === 4;

/** A fill closes what is left open: the lines that it is bounded by there, though nobody draws them. */
function closings(e: Entity, m: Affine): [Vec3, Vec3][] {
  const open: [readonly [number, number], readonly [number, number]][] = [];
  if (e.kind === 'path') {
    for (const { pieces, closed } of piecesOf(e.path, false))
      if (!closed && (pieces.length > 1 || !isStraight(pieces[0]!)))
        open.push([endOf(pieces[pieces.length - 1]!), startOf(pieces[0]!)]);
  } else if (e.kind === 'polyline' && e.dim === 2 && !e.closed && e.points.length > 4)
    open.push([
      [e.points[e.points.length - 2]!, e.points[e.points.length - 1]!],
      [e.points[0]!, e.points[1]!],
    ]);
  const plane = entityToWorld(e, m);
  const at = ([x, y]: readonly [number, number]): Vec3 => applyPoint(plane, [x, y, 0]);
  return open.filter(([a, b]) => a[0] !== b[0] || a[1] !== b[1]).map(([a, b]) => [at(a), at(b)]);
}

/**
 * The chords of a circle seen square-on, from its right and counter-clockwise whichever way it is drawn, so that two files
 * have the same ones; `false` for a circle that is seen aslant.
 */
function wholeTurn(e: Circle, m: Affine, tolerance: number, sink: ChordSink): boolean {
  const p = entityToWorld(e, m);
  const [u, v] = [Math.hypot(p[0], p[1]), Math.hypot(p[3], p[4])];
  const near = ROUNDING * u;
  if (p[2] !== 0 || p[5] !== 0 || Math.abs(u - v) > near || Math.abs(p[0] * p[3] + p[1] * p[4]) > near * u)
    return false;
  const [x, y, z] = applyPoint(p, e.centre);
  const r = e.radius * u;
  const n = chordCount(r, TAU, tolerance);
  for (let k = 0; k <= n; k++) {
    const t = (TAU * (k % n)) / n;
    (k === 0 ? sink.moveTo : sink.lineTo)(x + r * Math.cos(t), y + r * Math.sin(t), z);
  }
  return true;
}

/** The length around what a fill fills: open outlines count as closed, strokes without area not at all. */
function fillLength(e: Entity, m: Affine): number {
  if (e.kind === 'hatch' || e.kind === 'face') return lengthOf(e, m);
  const outline = outlinePath(e);
  if (!outline) return 0;
  const { id, layer, look, normal } = e;
  return fillLoops(outline).reduce(
    (sum, path) => sum + lengthOf({ kind: 'path', id, layer, look, path, ...(normal && { normal }) }, m),
    0,
  );
}

/** Filled corners that lie side by side bound one area: an edge that two of them share is no boundary. */
class FilledFaces {
  private readonly edges = new Map<string, { a: Vec3; b: Vec3; key: string; odd: boolean }>();

  constructor(private readonly join: boolean) {}

  add(corners: readonly Vec3[], key: string): void {
    const name = (p: Vec3): string => `${p[0].toPrecision(10)},${p[1].toPrecision(10)}`;
    corners.forEach((a, i) => {
      const b = corners[(i + 1) % corners.length]!;
      const [p, q] = [name(a), name(b)];
      const id = this.join ? `${key}|${p < q ? `${p}|${q}` : `${q}|${p}`}` : String(this.edges.size);
      const known = this.edges.get(id);
      if (known) known.odd = !known.odd;
      else this.edges.set(id, { a, b, key, odd: true });
    });
  }

  boundary(each: (a: Vec3, b: Vec3, key: string) => void): void {
    for (const { a, b, key, odd } of this.edges.values()) if (odd) each(a, b, key);
  }
}

/** Doubles that grow as needed. */
class Growing {
  private data = new Float64Array(64);
  private n = 0;

  push(a: number, b: number, c: number, d: number): void {
    if (this.n + 4 > this.data.length) {
      const wider = new Float64Array(this.data.length * 2);
      wider.set(this.data);
      this.data = wider;
    }
    this.data[this.n++] = a;
    this.data[this.n++] = b;
    this.data[this.n++] = c;
    this.data[this.n++] = d;
  }
  done(): Float64Array {
    return this.data.subarray(0, this.n);
  }
}

import type { Rgb } from '../drawing/appearance.js';
import { areaOfPieces } from '../geometry/piece-area.js';
import type { Piece } from '../geometry/path-pieces.js';
import { reversed } from '../geometry/path-pieces.js';
import type { CurveRules } from './chain-curves.js';
import { closedCurves, endLine, openCurves } from './chain-curves.js';
import { componentsOf } from './components.js';
import { meeting } from './corners.js';
import { edgePoints } from './edge-points.js';
import type { Labelled } from './labels.js';
import { NONE } from './labels.js';
import type { AtCorners, Chain, Network } from './network.js';
import { cornerId, networkOf } from './network.js';

/** An area of one colour: its outlines in pixels, the outer ones and the holes. */
export interface TracedArea {
  readonly label: number;
  readonly rgb: Rgb;
  readonly loops: readonly (readonly Piece[])[];
}

/** An edge between two areas, or between an area and the ground. */
export interface TracedEdge {
  readonly pieces: readonly Piece[];
  readonly closed: boolean;
  readonly right: number;
  readonly left: number;
}

export interface Traced {
  readonly areas: readonly TracedArea[];
  readonly edges: readonly TracedEdge[];
  /** Ends of curves, each once for each edge; and corners that chains of pixel sides would have in their place. */
  readonly points: number;
  readonly pixelPoints: number;
  /** Areas that are joined at a corner alone, or parted there. */
  readonly crosswise: number;
}

export interface TraceRules extends CurveRules {
  readonly corners: AtCorners;
}

/** Progress and a way to stop: told how far it has come, 0 to 1. */
export type Going = (done: number) => void;

/**
 * Traces the edges between the areas of a picture: each once, so that neighbours share theirs. Coordinates are pixels, y downwards, the upper left corner of the
 * picture at (0, 0).
 */
export function trace(picture: Labelled, rules: TraceRules, going: Going): Traced {
  const pieces = componentsOf(picture);
  going(0.2);
  const net = networkOf(picture, pieces, rules.corners, () => going(0.3));
  going(0.5);
  const points = net.chains.map((c) => edgePoints(c, picture));
  const places = placesOfNodes(net, points, picture);
  const curves = net.chains.map((c, i) => {
    if (i % 64 === 0) going(0.5 + (0.45 * i) / net.chains.length);
    if (c.closed) return closedCurves(points[i]!, rules);
    const n = c.corners.length;
    const node = (k: number): readonly [number, number] =>
      places.get(cornerId(picture.width, c.corners[k]!, c.corners[k + 1]!))!;
    return openCurves(points[i]!, node(0), node(n - 2), rules);
  });
  return {
    areas: areasOf(net, curves, pieces.of, picture),
    edges: net.chains.map((c, i) => ({ pieces: curves[i]!, closed: c.closed, right: c.right, left: c.left })),
    points: curves.reduce((n, c) => n + c.length, 0),
    pixelPoints: net.chains.reduce((n, c) => n + turnsOf(c), 0),
    crosswise: net.crosswise,
  };
}

/** Corners of a chain of pixel sides. */
function turnsOf({ corners: c }: Chain): number {
  let n = 0;
  for (let i = 2; i + 3 < c.length; i += 2) if (c[i - 2] !== c[i + 2] && c[i - 1] !== c[i + 3]) n++;
  return n;
}

/** Where three areas meet: where the edges lead that end there, not further than two pixels from where they were seen. */
function placesOfNodes(
  net: Network,
  points: readonly Float64Array[],
  { width, height }: Labelled,
): Map<number, readonly [number, number]> {
  const out = new Map<number, readonly [number, number]>();
  for (const [key, ends] of net.nodes) {
    const [x, y] = [key % (width + 1), Math.floor(key / (width + 1))];
    const lines = ends.flatMap((end) => {
      if (end === null) return [];
      const line = endLine(points[end < 0 ? -1 - end : end]!, end < 0);
      return line && line.off < 0.5 ? [line] : [];
    });
    const met = lines.length > 1 ? meeting(lines) : null;
    const near = met && Math.hypot(met[0] - x, met[1] - y) < 2 ? met : ([x, y] as const);
    // What lies on the border of the picture stays there.
    out.set(key, [x === 0 || x === width ? x : near[0], y === 0 || y === height ? y : near[1]]);
  }
  return out;
}

/** Puts chains together to the outlines of each piece: its area lies to the right of them. */
function areasOf(
  net: Network,
  curves: readonly (readonly Piece[])[],
  pieceOf: Int32Array,
  picture: Labelled,
): TracedArea[] {
  // Pieces that are joined at corners are one.
  const parent = new Map<number, number>();
  const root = (i: number): number => {
    let r = i;
    while (parent.has(r)) r = parent.get(r)!;
    return r;
  };
  for (const [a, b] of net.joined) if (root(a) !== root(b)) parent.set(root(a), root(b));
  const loops = new Map<number, { label: number; loops: Piece[][] }>();
  const add = (label: number, pixel: number, loop: Piece[]): void => {
    if (label === NONE || pixel < 0 || loop.length === 0) return;
    const key = root(pieceOf[pixel]!);
    const own = loops.get(key);
    if (own) own.loops.push(loop);
    else loops.set(key, { label, loops: [loop] });
  };
  const back = (i: number): Piece[] => [...curves[i]!].reverse().map(reversed);
  const used = new Set<number>();
  net.chains.forEach((c, i) => {
    if (c.closed) {
      add(c.right, c.rightPixel, [...curves[i]!]);
      add(c.left, c.leftPixel, back(i));
      return;
    }
    for (const first of [i, -1 - i]) {
      if (used.has(first)) continue;
      const [label, pixel] = first < 0 ? [c.left, c.leftPixel] : [c.right, c.rightPixel];
      const loop: Piece[] = [];
      let half = first;
      // From where one chain ends, on by the one furthest to the right: the same area stays on that side.
      do {
        used.add(half);
        const n = half < 0 ? -1 - half : half;
        loop.push(...(half < 0 ? back(n) : curves[n]!));
        half = next(net, half, picture.width);
      } while (half !== first && !used.has(half));
      add(label, pixel, loop);
    }
  });
  return [...loops.values()]
    .map(({ label, loops: own }) => ({
      label,
      rgb: picture.palette[label]!,
      // The outer outline first.
      loops: own.sort((a, b) => Math.abs(areaOfPieces(b)) - Math.abs(areaOfPieces(a))),
    }))
    .sort((a, b) => a.label - b.label);
}

/** The half of a chain that follows another round the area to its right. */
function next(net: Network, half: number, width: number): number {
  const { corners: c } = net.chains[half < 0 ? -1 - half : half]!;
  const n = c.length;
  const [x, y, px, py] = half < 0 ? [c[0]!, c[1]!, c[2]!, c[3]!] : [c[n - 2]!, c[n - 1]!, c[n - 4]!, c[n - 3]!];
  const direction = x > px ? 0 : y > py ? 1 : x < px ? 2 : 3;
  const out = net.nodes.get(cornerId(width, x, y))!;
  for (const turn of [1, 0, 3]) {
    const found = out[(direction + turn) % 4];
    if (found !== null && found !== undefined) return found;
  }
  return half;
}

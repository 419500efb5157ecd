import type { Appearance, Dash } from '../../drawing/appearance.js';
import type { Entity, Mesh } from '../../drawing/entity.js';
import type { Common } from './read-common.js';
import type { CodeSet } from './rest.js';
import { codes } from './rest.js';
import type { Bag } from './bag.js';
import type { LookReader } from './read-look.js';

const POLYLINE = codes(10, 20, 30, 39, 40, 41, 66, 70, 71, 72, 73, 74, 75);

/** Flags of a POLYLINE and of its vertices (DXF reference, POLYLINE and VERTEX, group 70). */
const CLOSED = 1;
const CURVE_FIT = 2;
const FITTED = 4;
const SPACE = 8;
const GRID = 16;
const CLOSED_N = 32;
const POLYFACE = 64;
const DASH_THROUGH = 128;
const VERTEX_ON_SPLINE = 8;
const VERTEX_FRAME = 16;
const VERTEX_CORNER = 64;
const VERTEX_FACE = 128;

/** A POLYLINE while its vertices come in: a line in the plane or in space, a net of M × N corners, or a polyface mesh. */
export class HeavyPolyline {
  /** It is a curve fitted to its vertices: what comes in are points of the curve. */
  fitted: boolean;
  /** Vertices with a layer, colour or linetype of their own. */
  looksLost = 0;
  /** Indices of faces that name no corner. */
  lostIndices = 0;
  private readonly common: Common;
  private readonly flags: number;
  private readonly elevation: number;
  private readonly widths0: [number, number];
  private readonly size: [number, number];
  private readonly xyz: number[] = [];
  private readonly bulges: number[] = [];
  private readonly widths: number[] = [];
  private readonly faces: number[][] = [];
  private readonly faceLooks: ({ layer: string; look: Appearance } | null)[] = [];

  /** The bag holds the POLYLINE itself. */
  constructor(bag: Bag, common: (known: CodeSet) => Common) {
    this.common = common(POLYLINE);
    this.flags = bag.integer(70);
    this.elevation = bag.number(30);
    this.widths0 = [bag.number(40), bag.number(41)];
    const smooth = (this.flags & FITTED) !== 0;
    this.fitted = (this.flags & (CURVE_FIT | FITTED)) !== 0;
    this.size = smooth ? [bag.integer(73), bag.integer(74)] : [bag.integer(71), bag.integer(72)];
  }

  /** Takes in the VERTEX that the bag holds. */
  vertex(bag: Bag, looks: LookReader): void {
    const flags = bag.integer(70);
    if ((flags & VERTEX_FRAME) !== 0) {
      this.fitted = true;
      return;
    }
    if ((flags & VERTEX_ON_SPLINE) !== 0) this.fitted = true;
    const { layer, look } = this.common;
    const ownLayer = bag.text(8, layer);
    const ownLook = this.lookOf(bag, looks);
    const other = ownLayer !== layer || ownLook !== look;
    if ((this.flags & POLYFACE) !== 0 && (flags & VERTEX_FACE) !== 0 && (flags & VERTEX_CORNER) === 0) {
      const face = [71, 72, 73, 74].map((c) => bag.integer(c)).filter((i) => i !== 0);
      if (face.length === 0) return;
      this.faces.push(face);
      this.faceLooks.push(other ? { layer: ownLayer, look: ownLook } : null);
      return;
    }
    if (other) this.looksLost++;
    this.xyz.push(...bag.point(10));
    this.bulges.push(bag.number(42));
    this.widths.push(bag.number(40, this.widths0[0]), bag.number(41, this.widths0[1]));
  }

  /** The look of a vertex: what it states of colour and linetype, otherwise that of the polyline. */
  private lookOf(bag: Bag, looks: LookReader): Appearance {
    const { look } = this.common;
    const coloured = bag.has(62) || bag.has(420);
    if (!coloured && !bag.has(6)) return look;
    const own = looks.read(bag, false);
    const stroke = coloured ? own.stroke : look.stroke;
    const dash = bag.has(6) && named(own.dash) !== named(look.dash) ? own.dash : look.dash;
    const same = dash === look.dash && JSON.stringify(stroke) === JSON.stringify(look.stroke);
    return same ? look : { ...look, stroke, dash };
  }

  build(): Entity {
    const { common, flags, xyz, bulges, widths } = this;
    if ((flags & POLYFACE) !== 0) return this.polyface();
    if ((flags & GRID) !== 0) return this.grid();
    const dim = (flags & SPACE) !== 0 ? 3 : 2;
    const points = dim === 3 ? Float64Array.from(xyz) : Float64Array.from(xyz.filter((_, i) => i % 3 !== 2));
    return {
      kind: 'polyline',
      ...common,
      points,
      dim,
      elevation: dim === 2 ? this.elevation : 0,
      closed: (flags & CLOSED) !== 0,
      ...(dim === 2 && bulges.some((b) => b !== 0) && { bulges: Float64Array.from(bulges) }),
      ...(dim === 2 && widths.some((w) => w !== 0) && { widths: Float64Array.from(widths) }),
      ...((flags & DASH_THROUGH) !== 0 && { dashThrough: true }),
    };
  }

  private polyface(): Mesh {
    const corners = this.xyz.length / 3;
    const out: number[] = [];
    const looks: (typeof this.faceLooks)[number][] = [];
    for (const [i, face] of this.faces.entries()) {
      const whole = face.filter((i) => Math.abs(i) <= corners);
      this.lostIndices += face.length - whole.length;
      if (whole.length === 0) continue;
      out.push(whole.length, ...whole.map((c) => (c > 0 ? c - 1 : c)));
      looks.push(this.faceLooks[i]!);
    }
    return {
      kind: 'mesh',
      ...this.common,
      points: Float64Array.from(this.xyz),
      faces: Int32Array.from(out),
      ...(looks.some((l) => l !== null) && { faceLooks: looks }),
    };
  }

  private grid(): Mesh {
    const corners = this.xyz.length / 3;
    const [m, stated] = this.size;
    const n = Math.min(stated, m > 0 ? Math.floor(corners / m) : 0);
    const closedM = (this.flags & CLOSED) !== 0;
    const closedN = (this.flags & CLOSED_N) !== 0;
    if (n !== stated) this.lostIndices++;
    return {
      kind: 'mesh',
      ...this.common,
      points: Float64Array.from(this.xyz.slice(0, 3 * m * n)),
      faces: gridFaces(m, n, closedM, closedN),
      grid: { m, n, closedM, closedN },
    };
  }
}

/** The four-cornered faces of a net of m × n corners, in the order in which the corners are listed. */
export function gridFaces(m: number, n: number, closedM: boolean, closedN: boolean): Int32Array {
  const out: number[] = [];
  for (let i = 0; i + (closedM ? 0 : 1) < m; i++) {
    for (let j = 0; j + (closedN ? 0 : 1) < n; j++) {
      const [i1, j1] = [(i + 1) % m, (j + 1) % n];
      out.push(4, i * n + j, i * n + j1, i1 * n + j1, i1 * n + j);
    }
  }
  return Int32Array.from(out);
}

const named = (dash: Dash): string => (dash.kind === 'linetype' ? dash.name.toLowerCase() : '');

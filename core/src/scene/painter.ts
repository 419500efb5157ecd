import { LinetypeDashes } from '../drawing/linetype-dashes.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, applyVector, compose, largestScale } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { Vec3 } from '../geometry/vector.js';
import { draftingDashes, lengthDashes } from '../geometry/dashes.js';
import { triangulate } from '../geometry/triangulate.js';
import type { Width } from '../drawing/appearance.js';
import { DRAFTING_DEFAULT } from '../drawing/appearance.js';
import { entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import { isDrafting } from '../drawing/drawing.js';
import type { Entity, Image, Polyline, RichText, Text } from '../drawing/entity.js';
import { flattenEntity } from '../drawing/flatten.js';
import { widePieces } from '../drawing/wide-pieces.js';
import { hatchLines, hatchRings } from '../drawing/hatch-area.js';
import { rayWithin } from '../drawing/rays.js';
import type { Visit } from '../drawing/resolve.js';
import { paintRgb } from '../drawing/resolve.js';
import type { FontBook } from '../text/fonts.js';
import type { LetterBar } from '../text/letter-bars.js';
import { letterBars } from '../text/letter-bars.js';
import type { TextLine } from '../text/layout.js';
import { lineMatrix, linesOf, ownPaint } from '../text/layout.js';
import type { LayerBuffers } from './buffers.js';

/** Triangles of a line of text, in em; texts repeat, so they are kept. */
export type GlyphCache = Map<string, GlyphShape>;

/** How far, in em, the chords of a letter may lie from its curves; of a drawing of very many objects, which are cut anew where looked at closely. */
const FINE_LETTERS = 0.004;
const COARSE_LETTERS = 0.03;
/** Curves cut less finely than to this part of their size are those of such a drawing. */
const FINE_ROUND = 1 / 200;

/** A line of text in em: triangles of filled letters, or chords (x0, y0, x1, y1) of letters in strokes. */
interface GlyphShape {
  triangles: Float64Array;
  chords: Float64Array;
  advance: number;
}

/** The most dashes one line is cut into, and the most lines a pattern is drawn by; beyond it a line stays whole. */
const MOST_DASHES = 4_000;
const MOST_PATTERN = 40_000;

/** Draws entities into buffers as chords and triangles. */
export class Painter {
  private readonly dashes: LinetypeDashes;
  /** Letters of a drafting drawing stand on the bare ground, those of an illustration often on what is filled. */
  private readonly drafting: boolean;

  constructor(
    private readonly drawing: Drawing,
    private readonly fonts: FontBook,
    private readonly glyphs: GlyphCache,
    private readonly tolerance: number,
    private readonly bounds: Box2,
    /** Half the size of the cross that shows a point. */
    private readonly mark: number,
    /** What dash lengths are multiplied by: the scale of a window, unless dashes keep their length on paper. */
    private readonly windowScale = 1,
    /** The part of a feature's size that its chords may miss it by. */
    private readonly round = 1 / 300,
    /** No letters, no lines of patterns, no widths and dashes. */
    private readonly draft = false,
  ) {
    this.dashes = new LinetypeDashes(drawing);
    this.drafting = isDrafting(drawing);
  }

  draw(v: Visit, out: LayerBuffers): void {
    const { entity: e, resolved: r } = v;
    const { tolerance } = this;
    out.width = 0;
    if (this.draft && (e.kind === 'text' || e.kind === 'richText' || (e.kind === 'hatch' && !e.solid))) return;
    switch (e.kind) {
      case 'insert':
      case 'opaque':
      case 'dimension':
      case 'leader':
        return;
      case 'text':
      case 'richText':
        return this.text(e, v, out);
      case 'image':
        return this.image(e, v, out);
      case 'point': {
        const p = applyPoint(v.toWorld, e.at);
        const h = this.mark;
        out.colour(r.stroke ?? 0, 1, r.foreground);
        out.chord(p[0] - h, p[1], p[0] + h, p[1]);
        out.chord(p[0], p[1] - h, p[0], p[1] + h);
        return;
      }
      case 'ray': {
        const at = applyPoint(v.toWorld, e.at);
        const ends = rayWithin(at, applyVector(v.toWorld, e.direction), e.both, this.bounds);
        out.colour(r.stroke ?? 0, r.strokeOpacity, r.foreground);
        if (ends) out.chord(ends[0][0], ends[0][1], ends[1][0], ends[1][1]);
        return;
      }
      default:
      // All others are drawn by their curves and filled by their outlines.
    }
    const solid = (e.kind === 'hatch' && e.solid) || (e.kind === 'face' && e.solid);
    const fill = r.fill ?? (solid ? r.stroke : null);
    // A small feature is cut finely enough to look round when it is zoomed to.
    const fine = Math.min(tolerance, sizeOf(e, v.toWorld) * this.round || tolerance);
    if (e.kind === 'hatch' && !e.solid) return this.pattern(e, v, out);
    if (fill !== null && e.kind !== 'line') {
      const rings = e.kind === 'hatch' ? hatchRings(e, v.toWorld, fine) : ringsOf(e, v.toWorld, fine);
      out.colour(fill, r.fillOpacity, r.foreground && r.stroke === null);
      out.area(triangulate(rings, e.look.fillRule));
    }
    if (r.stroke === null || solid) return;
    out.colour(r.stroke, r.strokeOpacity, r.foreground);
    if (this.draft) return this.plain(e, v, out, fine);
    if (e.kind === 'polyline' && e.widths) this.wide(e, v, out, fine);
    else out.width = widthOf(r.width, v.toWorld);
    this.stroke(e, v, out, fine);
    out.width = 0;
  }

  private stroke(e: Entity, v: Visit, out: LayerBuffers, fine: number): void {
    const dash = v.resolved.dash;
    const scale = largestScale(v.toWorld);
    const cap = e.look.cap === 'round' ? 3 : 0;
    const put = (a: number, b: number, c: number, d: number): void => out.chord(a, b, c, d, cap);
    let cut: ((run: number[]) => void) | null = null;
    if (dash.kind === 'lengths' && dash.lengths.some((l) => l > 0)) {
      const lengths = dash.lengths.map((l) => l * scale);
      cut = (run) => lengthDashes(run, lengths, dash.offset * scale, MOST_DASHES, put);
    } else if (dash.kind === 'linetype') {
      const scaled = this.dashes.pattern(dash).map((d) => d * this.windowScale);
      if (scaled.length > 0) cut = (run) => draftingDashes(run, scaled, MOST_DASHES, put);
    }
    if (!cut) {
      if (out.width !== 0) return joined(e, v.toWorld, fine, cap, out);
      return this.plain(e, v, out, fine);
    }
    // Without "dashes run on" each straight side of a polyline starts its pattern anew.
    const anew = e.kind === 'polyline' && !e.dashThrough && !e.bulges;
    let run: number[] = [];
    const finish = (): void => {
      if (run.length >= 4) cut(run);
    };
    flattenEntity(e, v.toWorld, fine, {
      moveTo: (x, y) => {
        finish();
        run = [x, y];
      },
      lineTo: (x, y) => {
        run.push(x, y);
        if (!anew) return;
        finish();
        run = [x, y];
      },
    });
    finish();
  }

  /** Hairlines without dashes. */
  private plain(e: Entity, v: Visit, out: LayerBuffers, fine: number): void {
    let [px, py] = [0, 0];
    flattenEntity(e, v.toWorld, fine, {
      moveTo: (x, y) => {
        px = x;
        py = y;
      },
      lineTo: (x, y) => {
        out.chord(px, py, x, y);
        px = x;
        py = y;
      },
    });
  }

  private pattern(e: Extract<Entity, { kind: 'hatch' }>, v: Visit, out: LayerBuffers): void {
    const { resolved: r } = v;
    out.colour(r.fill ?? r.stroke ?? 0, r.fillOpacity, r.foreground);
    const made = hatchLines(e, MOST_PATTERN);
    if (!made || made.tooDense) {
      // A pattern too dense to tell its lines apart is seen by its outline.
      const line = { ...v, resolved: { ...r, stroke: r.fill ?? r.stroke } };
      this.stroke(
        { ...e },
        { ...line, resolved: { ...line.resolved, dash: { kind: 'linetype', name: '', scale: 1 } } },
        out,
        this.tolerance,
      );
      if (!made) return;
    }
    const m = entityToWorld(e, v.toWorld);
    const s = made.segments;
    const z = e.elevation;
    for (let i = 0; i < s.length; i += 4) {
      const a = applyPoint(m, [s[i]!, s[i + 1]!, z]);
      const b = applyPoint(m, [s[i + 2]!, s[i + 3]!, z]);
      out.chord(a[0], a[1], b[0], b[1]);
    }
  }

  /** A polyline with widths, as four-cornered pieces along its chords. */
  private wide(e: Polyline, v: Visit, out: LayerBuffers, fine: number): void {
    const quads: number[] = [];
    widePieces(e, v.toWorld, fine, (p) => {
      const [p1, p2, p3, p4] = [p.slice(0, 2), p.slice(2, 4), p.slice(4, 6), p.slice(6, 8)] as const;
      quads.push(...p1, ...p2, ...p3, ...p1, ...p3, ...p4);
    });
    if (this.drafting) out.thin();
    out.area(Float64Array.from(quads));
  }

  /**
   * A picture that the drawing holds, or else its frame with its name and diagonals; a cover as paper over what lies
   * below.
   */
  private image(e: Image, v: Visit, out: LayerBuffers): void {
    const rings = ringsOf(e, v.toWorld, this.tolerance);
    if (e.cover) {
      out.paper();
      return out.area(triangulate(rings, 'evenodd'));
    }
    const { resolved: r } = v;
    const at = (x: number, y: number): Vec3 =>
      applyPoint(
        v.toWorld,
        [0, 1, 2].map((i) => e.at[i]! + e.u[i]! * x * e.pixels[0] + e.v[i]! * y * e.pixels[1]) as [
          number,
          number,
          number,
        ],
      );
    const [a, b, c, d] = [at(0, 0), at(1, 1), at(1, 0), at(0, 1)];
    const [ux, uy, vx, vy] = [c[0] - a[0], c[1] - a[1], d[0] - a[0], d[1] - a[1]];
    const whole = ux * vy - uy * vx;
    if (e.data !== undefined && whole !== 0 && !this.draft) {
      const place = (x: number, y: number): [number, number] => {
        const [px, py] = [x - a[0], y - a[1]];
        return [(px * vy - py * vx) / whole, 1 - (ux * py - uy * px) / whole];
      };
      return out.picture(e.data, r.fillOpacity, triangulate(rings, 'evenodd'), place);
    }
    out.colour(r.stroke ?? 0x808080, r.strokeOpacity, r.foreground);
    this.stroke(e, v, out, this.tolerance);
    if (!e.clip || e.clip.length === 4) {
      out.chord(a[0], a[1], b[0], b[1]);
      out.chord(c[0], c[1], d[0], d[1]);
    }
    const name = e.file?.replace(/^.*[\\/]/, '');
    if (!name) return;
    const width = Math.hypot(c[0] - a[0], c[1] - a[1]);
    const label: Text = {
      kind: 'text',
      id: e.id,
      layer: e.layer,
      look: e.look,
      text: name,
      at: at(0.5, 0.04),
      size: width / 40,
      sizeOf: 'capital',
      rotation: Math.atan2(c[1] - a[1], c[0] - a[0]),
      widthFactor: 1,
      oblique: 0,
      horizontal: 'centre',
      vertical: 'baseline',
    };
    this.text(label, { ...v, toWorld: [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0] }, out);
  }

  private text(e: Text | RichText, v: Visit, out: LayerBuffers): void {
    const { resolved: r } = v;
    const plane = entityToWorld(e, v.toWorld);
    for (const line of linesOf(e, this.drawing, this.fonts)) {
      const own = ownPaint(line);
      const foreground = own ? own.kind === 'index' && own.index === 7 : r.foreground;
      out.colour((own && paintRgb(own)) ?? r.fill ?? r.stroke ?? 0, r.fillOpacity, foreground);
      if (this.drafting) out.thin();
      const shape = this.glyphShape(line);
      const m = compose(plane, lineMatrix(line, shape.advance));
      out.area(mapped(shape.triangles, m));
      for (let i = 0; i < shape.chords.length; i += 4) {
        const [x0, y0, x1, y1] = shape.chords.subarray(i, i + 4);
        const [a, b] = [applyPoint(m, [x0!, y0!, 0]), applyPoint(m, [x1!, y1!, 0])];
        out.chord(a[0], a[1], b[0], b[1]);
      }
      for (const bar of letterBars(line, shape.advance, this.fonts)) out.area(mapped(twoTriangles(bar), m));
    }
  }

  private glyphShape(line: TextLine): GlyphShape {
    const key = `${line.family}\u0000${line.weight}${line.italic}\u0000${line.text}`;
    const known = this.glyphs.get(key);
    if (known) return known;
    const outline = this.fonts.outline(line.text, line.family, line.weight, line.italic);
    const rings: number[][] = [];
    flattenEntity(
      { kind: 'path', id: 0, layer: '', look: DRAFTING_DEFAULT, path: outline.path },
      IDENTITY,
      this.round > FINE_ROUND ? COARSE_LETTERS : FINE_LETTERS,
      {
        moveTo: (x, y) => rings.push([x, y]),
        lineTo: (x, y) => rings[rings.length - 1]!.push(x, y),
      },
    );
    const chords: number[] = [];
    if (outline.strokes)
      for (const r of rings) for (let i = 2; i < r.length; i += 2) chords.push(r[i - 2]!, r[i - 1]!, r[i]!, r[i + 1]!);
    const triangles = outline.strokes ? new Float64Array(0) : triangulate(rings, 'nonzero');
    const made = { triangles, chords: Float64Array.from(chords), advance: outline.advance };
    this.glyphs.set(key, made);
    return made;
  }
}

/** A width as chords have it: in the drawing's unit, or below 0 in millimetres on paper. */
function widthOf(width: Width, m: Affine): number {
  if (width.kind === 'paper') return -width.mm;
  return width.kind === 'drawing' ? width.value * largestScale(m) : 0;
}

/** Draws chords that meet with round joins; the ends of what is not closed are round for a round cap. */
function joined(e: Entity, m: Affine, fine: number, cap: number, out: LayerBuffers): void {
  let run: number[] = [];
  const finish = (): void => {
    const n = run.length;
    const last = n / 2 - 2;
    const closed = n > 6 && run[0] === run[n - 2] && run[1] === run[n - 1];
    for (let i = 0; i <= last; i++) {
      const first = closed || i > 0 ? 1 : cap & 1;
      const second = closed || i < last ? 2 : cap & 2;
      out.chord(run[2 * i]!, run[2 * i + 1]!, run[2 * i + 2]!, run[2 * i + 3]!, first | second);
    }
  };
  flattenEntity(e, m, fine, {
    moveTo: (x, y) => {
      finish();
      run = [x, y];
    },
    lineTo: (x, y) => void run.push(x, y),
  });
  finish();
}

const twoTriangles = ({ from, to, lower, upper }: LetterBar): Float64Array =>
  Float64Array.of(from, lower, to, lower, to, upper, from, lower, to, upper, from, upper);

function mapped(t: Float64Array, m: Affine): Float64Array {
  const placed = new Float64Array(t.length);
  for (let i = 0; i < t.length; i += 2) {
    placed[i] = m[0] * t[i]! + m[3] * t[i + 1]! + m[9];
    placed[i + 1] = m[1] * t[i]! + m[4] * t[i + 1]! + m[10];
  }
  return placed;
}

/** The rough size of an entity in the world, by chords of a coarse tolerance; 0 for lines. */
function sizeOf(e: Entity, m: Affine): number {
  if (e.kind === 'line') return 0;
  if (e.kind === 'circle' || e.kind === 'arc') return 2 * e.radius * largestScale(m);
  const box = new Box2();
  const add = (x: number, y: number): void => box.add(x, y);
  flattenEntity(e, m, Infinity, { moveTo: add, lineTo: add });
  return box.diagonal;
}

function ringsOf(e: Entity, m: Affine, tolerance: number): number[][] {
  const rings: number[][] = [];
  flattenEntity(e, m, tolerance, {
    moveTo: (x, y) => rings.push([x, y]),
    lineTo: (x, y) => rings[rings.length - 1]!.push(x, y),
  });
  for (const r of rings) {
    const n = r.length;
    if (n > 4 && r[0] === r[n - 2] && r[1] === r[n - 1]) r.length = n - 2;
  }
  return rings;
}

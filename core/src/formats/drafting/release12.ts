import { fillBoundary, tellFillRule } from './even-odd.js';
import type { Thing } from '../../drawing/ledger.js';
import type { Reason } from '../../drawing/reasons.js';
import { because } from '../../drawing/reasons.js';
import { IDENTITY, applyPoint, applyVector, inverse, planeFrame } from '../../geometry/affine.js';
import { fitArcs } from '../../geometry/arc-fit.js';
import type { ArcVertex } from '../../geometry/arc-fit.js';
import { cubicAt } from '../../geometry/beziers.js';
import { breakpoints, evaluate, nurbsFault } from '../../geometry/nurbs.js';
import { splitSubpaths } from '../../geometry/path.js';
import { isIntricate, triangulate } from '../../geometry/triangulate.js';
import { filledLook } from '../../drawing/arrows.js';
import type { Block, Drawing } from '../../drawing/drawing.js';
import type { Entity, Ellipse, Hatch, Path, Polyline, Ray, RichText, Spline, Text } from '../../drawing/entity.js';
import { flattenEntity } from '../../drawing/flatten.js';
import { hatchLines, hatchRings } from '../../drawing/hatch-area.js';
import type { Ledger } from '../../drawing/ledger.js';
import { boundsOf } from '../../drawing/bounds.js';
import { lengthOf } from '../../drawing/measures.js';
import { partsOf } from '../../drawing/parts.js';
import { rayWithin } from '../../drawing/rays.js';
import type { TextLine } from '../../text/layout.js';
import { linesOf } from '../../text/layout.js';
import type { WriteOptions, Work } from '../format.js';
import { checkStop } from '../format.js';
import { draftingCurve, runOf } from './path-drafting.js';
import type { Place } from './places.js';
import { placesOf, tellEach } from './places.js';
import { UNSEEN, partsOfSweep } from '../../geometry/tolerance.js';

/** How far converted curves may stray, as a part of the drawing's diagonal. */
const TOLERANCE = UNSEEN;

/**
 * A drawing in the words of release 12, which has no splines, ellipses, hatches, rich text, rays or leaders: curves
 * become polylines of arcs within a tolerance, hatches anonymous blocks of lines or filled corners, rich text a text per
 * line. All of it goes to the ledger.
 */
export function forRelease12(drawing: Drawing, options: WriteOptions, ledger: Ledger, work?: Work): Drawing {
  return new Release12(drawing, options, ledger).run(work);
}

function perimeter(ring: readonly number[]): number {
  let sum = 0;
  for (let i = 0, j = ring.length - 2; i + 1 < ring.length; j = i, i += 2)
    sum += Math.hypot(ring[i]! - ring[j]!, ring[i + 1]! - ring[j + 1]!);
  return sum;
}

const CONVERTED = new Set<Entity['kind']>([
  'spline',
  'ellipse',
  'path',
  'richText',
  'hatch',
  'ray',
  'leader',
  'opaque',
]);

class Release12 {
  private readonly tolerance: number;
  private readonly made = new Map<string, Block>();
  private readonly box;
  /** Where entities that need converting come to lie: once per insert that shows them, with the scale there. */
  private readonly places: Map<Entity, Place[]>;
  private names = 0;
  /** The entity at hand, as the drawing has it. */
  private source!: Entity;

  constructor(
    private readonly drawing: Drawing,
    private readonly options: WriteOptions,
    private readonly ledger: Ledger,
  ) {
    this.box = boundsOf(drawing, { hidden: true });
    this.tolerance = (this.box.diagonal || 1) * TOLERANCE;
    this.places = placesOf(drawing, (e) => CONVERTED.has(e.kind) || e.look.fill.kind !== 'none');
  }

  run(work: Work | undefined): Drawing {
    const { drawing } = this;
    if (!this.options.unitless)
      this.ledger.add({
        carryOver: 'units',
        action: 'dropped',
        reason: because('r12-has-no-unit', { unit: this.options.unit }),
        onPurpose: true,
      });
    let n = 0;
    const convert = (list: readonly Entity[]): Entity[] =>
      list.flatMap((e) => {
        if (++n % 1024 === 0) checkStop(work);
        return this.entity(e).map((c) =>
          e.sheet !== undefined && c.sheet === undefined ? { ...c, sheet: e.sheet } : c,
        );
      });
    const blocks = new Map<string, Block>();
    for (const [key, b] of drawing.blocks) blocks.set(key, { ...b, entities: convert(b.entities) });
    const entities = convert(drawing.entities);
    for (const [key, b] of this.made) blocks.set(key, b);
    return { ...drawing, entities, blocks };
  }

  private inParts = false;

  private entity(e: Entity): Entity[] {
    // Parts stand where what they are parts of does.
    if (!this.inParts) this.source = e;
    const filled =
      e.look.fill.kind !== 'none' && e.kind !== 'hatch' && !(e.kind === 'face' && e.solid) ? this.fill(e) : [];
    const bare = filled.length > 0 ? this.outlined(e) : e;
    switch (bare.kind) {
      case 'spline':
        return [...filled, ...this.spline(bare)];
      case 'ellipse':
        return [...filled, ...this.ellipse(bare)];
      case 'path':
        return [...filled, ...this.path(bare)];
      case 'richText':
        return this.richText(bare);
      case 'hatch':
        return this.hatch(bare);
      case 'ray':
        return this.ray(bare);
      case 'leader': {
        const parts = partsOf(bare, this.drawing);
        this.became(bare, 'parts', parts.length, 'leader-as-parts');
        return this.parts(parts);
      }
      case 'opaque':
        if (bare.picture !== undefined || !bare.drawn) return [bare];
        this.became(bare, 'parts', bare.drawn.length, because('shown-by-parts', { what: bare.type }));
        return this.parts(bare.drawn);
      default:
        // The writer has a record for all others, or says what became of them.
        return [...filled, bare];
    }
  }

  private parts(list: readonly Entity[]): Entity[] {
    const outer = this.inParts;
    this.inParts = true;
    const made = list.flatMap((p) => this.entity(p));
    this.inParts = outer;
    return made;
  }

  private became(
    e: Entity,
    to: Thing,
    entities: number,
    reason: Reason,
    more: { off?: number; added?: number; gone?: number } = {},
  ): void {
    const { off, added = 0, gone = 1 } = more;
    tellEach(this.ledger, this.placesOf(this.source), ({ key, scale }) => ({
      carryOver: e.kind === 'richText' ? 'text' : 'curves',
      action: off === undefined ? 'changed' : 'approximated',
      reason,
      onPurpose: true,
      becomes: { from: e.kind, to, gone, entities },
      ...(off !== undefined && {
        deviation: { value: Number((off * scale).toPrecision(2)), unit: this.options.unit },
      }),
      ...(added !== 0 && { added: { [key]: added * scale } }),
      id: e.id,
    }));
  }

  private placesOf(e: Entity): readonly Place[] {
    return e.sheet !== undefined ? [] : (this.places.get(e) ?? []);
  }

  private base(e: Entity): Pick<Polyline, 'id' | 'layer' | 'look' | 'sheet' | 'normal' | 'extended'> {
    const { id, layer, look, sheet, normal, extended } = e;
    return {
      id,
      layer,
      look,
      ...(sheet !== undefined && { sheet }),
      ...(normal && { normal }),
      ...(extended !== undefined && { extended }),
    };
  }

  /** Vertices of arcs as one polyline in the entity's plane. */
  private arcs(
    e: Entity,
    vertices: ArcVertex[],
    closed: boolean,
    elevation: number,
    off: number,
    flat: boolean,
  ): Entity[] {
    const list = closed ? vertices.slice(0, -1) : vertices;
    const bulges = Float64Array.from(list.map((v) => v.bulge));
    const { normal: _n, ...plain } = this.base(e);
    const made: Polyline = {
      kind: 'polyline',
      ...(flat ? plain : this.base(e)),
      points: Float64Array.from(list.flatMap((v) => [v.x, v.y])),
      dim: 2,
      elevation,
      closed,
      ...(bulges.some((b) => b !== 0) && { bulges }),
    };
    this.became(e, 'polyline', 1, because('as-polylines-of-arcs', { kind: e.kind }), {
      off,
      added: lengthOf(made) - lengthOf(e),
    });
    return [made];
  }

  private chords(e: Entity): Entity[] {
    const points: number[] = [];
    const { normal: _n, ...plain } = this.base(e);
    flattenEntity(e, IDENTITY, this.tolerance, {
      moveTo: (x, y, z) => void points.push(x, y, z),
      lineTo: (x, y, z) => void points.push(x, y, z),
    });
    const made: Polyline = {
      kind: 'polyline',
      ...plain,
      points: Float64Array.from(points),
      dim: 3,
      elevation: 0,
      closed: false,
    };
    this.became(e, 'polyline', 1, because('as-chords', { kind: e.kind }), {
      off: this.tolerance,
      added: lengthOf(made) - lengthOf(e),
    });
    return [made];
  }

  private spline(e: Spline): Entity[] {
    const z = e.points[2] ?? 0;
    const flat = e.points.every((v, i) => i % 3 !== 2 || v === z);
    if (nurbsFault(e) !== null || !flat) return this.chords(e);
    const p = [0, 0, 0];
    const at = (u: number): [number, number] => {
      evaluate(e, u, p);
      return [p[0]!, p[1]!];
    };
    const breaks = breakpoints(e);
    return this.fitted(e, at, breaks, z, true);
  }

  /** One polyline through pieces of a curve; closed where its ends meet. */
  private fitted(e: Entity, at: (t: number) => [number, number], breaks: number[], z: number, flat: boolean): Entity[] {
    const vertices: ArcVertex[] = [];
    let off = 0;
    for (let i = 1; i < breaks.length; i++) {
      const piece = fitArcs(at, breaks[i - 1]!, breaks[i]!, this.tolerance);
      vertices.pop();
      vertices.push(...piece.vertices);
      off = Math.max(off, piece.deviation);
    }
    const [a, b] = [vertices[0], vertices[vertices.length - 1]];
    const closed = vertices.length > 2 && Math.hypot(a!.x - b!.x, a!.y - b!.y) <= this.tolerance * 1e-3;
    return this.arcs(e, vertices, closed, z, off, flat);
  }

  private ellipse(e: Ellipse): Entity[] {
    const n = e.normal;
    if (n && (n[0] !== 0 || n[1] !== 0)) return this.chords(e);
    if (e.major[2] !== 0) return this.chords(e);
    const k = (n && n[2] < 0 ? -1 : 1) * e.ratio;
    const [mx, my] = e.major;
    const at = (t: number): [number, number] => {
      const [c, s] = [Math.cos(t), Math.sin(t) * k];
      return [e.centre[0] + mx * c - my * s, e.centre[1] + my * c + mx * s];
    };
    let sweep = (e.end - e.start) % (2 * Math.PI);
    if (sweep <= 0) sweep += 2 * Math.PI;
    const quarters = partsOfSweep(sweep, Math.PI / 2);
    const breaks = Array.from({ length: quarters + 1 }, (_, i) => e.start + (sweep * i) / quarters);
    return this.fitted(e, at, breaks, e.centre[2], true);
  }

  /** Each subpath as one polyline: lines and circular arcs as they are, other curves as arcs. */
  private path(e: Path): Entity[] {
    const out: Entity[] = [];
    for (const subpath of splitSubpaths(e.path)) {
      const gone = out.length === 0 ? 1 : 0;
      const curve = draftingCurve(subpath);
      if (!curve) continue;
      if (curve.form === 'polyline') {
        const { points, bulges, closed } = curve;
        out.push({
          kind: 'polyline',
          ...this.base(e),
          points,
          dim: 2,
          elevation: 0,
          closed,
          ...(bulges.some((b) => b !== 0) && { bulges }),
        });
        this.became(e, 'polyline', 1, 'outlines-as-polylines', { gone });
        continue;
      }
      const run = runOf(subpath)!;
      const vertices: ArcVertex[] = [];
      let [x, y] = [run.x, run.y];
      let off = 0;
      const join = (piece: { vertices: ArcVertex[]; deviation: number }): void => {
        vertices.pop();
        vertices.push(...piece.vertices);
        off = Math.max(off, piece.deviation);
      };
      const line = (ex: number, ey: number): void =>
        join({
          vertices: [
            { x, y, bulge: 0 },
            { x: ex, y: ey, bulge: 0 },
          ],
          deviation: 0,
        });
      for (const p of run.pieces) {
        if (p.kind === 'line') line(p.x, p.y);
        else if (p.kind === 'cubic') {
          const [x1, y1, x2, y2, x3, y3] = p.c;
          const [x0, y0] = [x, y];
          join(fitArcs((t) => [cubicAt(x0, x1, x2, x3, t), cubicAt(y0, y1, y2, y3, t)], 0, 1, this.tolerance));
        } else {
          const { arc } = p;
          const [c, s] = [Math.cos(arc.rotation), Math.sin(arc.rotation)];
          const at = (t: number): [number, number] => {
            const [px, py] = [arc.rx * Math.cos(t), arc.ry * Math.sin(t)];
            return [arc.cx + c * px - s * py, arc.cy + s * px + c * py];
          };
          const n = Math.max(1, Math.ceil(Math.abs(arc.sweep) / (Math.PI / 2)));
          for (let i = 0; i < n; i++)
            join(fitArcs(at, arc.start + (arc.sweep * i) / n, arc.start + (arc.sweep * (i + 1)) / n, this.tolerance));
        }
        [x, y] = p.kind === 'cubic' ? [p.c[4], p.c[5]] : [p.x, p.y];
      }
      if (run.closed && (x !== run.x || y !== run.y)) line(run.x, run.y);
      const list = run.closed ? vertices.slice(0, -1) : vertices;
      const bulges = Float64Array.from(list.map((v) => v.bulge));
      const made: Polyline = {
        kind: 'polyline',
        ...this.base(e),
        points: Float64Array.from(list.flatMap((v) => [v.x, v.y])),
        dim: 2,
        elevation: 0,
        closed: run.closed,
        ...(bulges.some((b) => b !== 0) && { bulges }),
      };
      const { normal: _n, ...plain } = this.base(e);
      const added = lengthOf(made) - lengthOf({ kind: 'path', ...plain, path: subpath });
      this.became(e, 'polyline', 1, 'outlines-as-polylines-of-arcs', { off, added, gone });
      out.push(made);
    }
    return out;
  }

  private richText(e: RichText): Entity[] {
    const lines = linesOf(e, this.drawing, this.options.fonts);
    const capital = (family: string): number => this.options.fonts.capital(family);
    // Rich text stands in the world, a text in the plane of its normal (DXF reference, "OCS").
    const toPlane = e.normal && inverse(planeFrame(e.normal));
    const placed = (l: TextLine): Pick<Text, 'at' | 'rotation'> => {
      if (!toPlane) return { at: [l.x, l.y, e.at[2]], rotation: l.rotation };
      const [dx, dy] = applyVector(toPlane, [Math.cos(l.rotation), Math.sin(l.rotation), 0]);
      return { at: applyPoint(toPlane, [l.x, l.y, e.at[2]]), rotation: Math.atan2(dy, dx) };
    };
    const made = lines
      .filter((l) => l.text.trim() !== '')
      .map((l): Text => ({
        kind: 'text',
        ...this.base(e),
        ...(l.paint && { look: { ...e.look, stroke: l.paint } }),
        text: l.text.trim(),
        ...placed(l),
        size: l.em * capital(l.family),
        sizeOf: 'capital',
        widthFactor: l.widthFactor,
        oblique: l.oblique,
        horizontal: l.anchor,
        vertical: 'baseline',
        ...(e.style !== undefined && { style: e.style }),
      }));
    this.became(e, 'text', made.length, 'rich-text-by-line');
    return made;
  }

  /** A filled shape as its outline alone, in the colour of its fill where it has none of its own. */
  private outlined(e: Entity): Entity {
    const { stroke, fill } = e.look;
    const own = stroke.kind !== 'none';
    const length = own ? 0 : lengthOf(e);
    for (const { key, scale } of own ? [] : this.placesOf(this.source)) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'changed',
        reason: fillBoundary(e) ? 'fill-got-outline' : 'flat-fill-as-line',
        onPurpose: true,
        id: e.id,
        added: { [key]: length * scale },
      });
    }
    return { ...e, look: { ...e.look, stroke: own ? stroke : fill, fill: { kind: 'none' } } } as Entity;
  }

  /** The hatch that stands for a fill, before its outline so that it lies under it. */
  private fill(e: Entity): Entity[] {
    const boundary = fillBoundary(e);
    if (!boundary) return [];
    tellFillRule(this.ledger, this.placesOf(this.source), e.id, boundary, this.options.unit);
    const loops = boundary.hatches[0]!;
    return this.hatch(
      { kind: 'hatch', ...this.base(e), loops, solid: true, pattern: 'SOLID', elevation: 0, angle: 0, scale: 1 },
      'fill',
    );
  }

  /** A hatch as an anonymous block: lines of its pattern, or filled corners. */
  private hatch(e: Hatch, from: Thing = 'hatch'): Entity[] {
    const { normal: _n, extended: _x, ...plain } = this.base(e);
    const inner = { ...plain, layer: '0' };
    const parts: Entity[] = [];
    const { normal: _m, ...flatHatch } = e;
    const pattern = hatchLines(e);
    // A pattern is measured by its lines already; a fill by its boundary, which becomes that of its corners.
    let filled = pattern ? 0 : -lengthOf(e);
    if (pattern) {
      const s = pattern.segments;
      for (let i = 0; i < s.length; i += 4) {
        const line: Entity = {
          kind: 'line',
          ...inner,
          start: [s[i]!, s[i + 1]!, e.elevation],
          end: [s[i + 2]!, s[i + 3]!, e.elevation],
          look: { ...e.look, stroke: { kind: 'byBlock' }, fill: { kind: 'none' } },
        };
        parts.push(line);
      }
    } else {
      const rings = hatchRings(flatHatch, IDENTITY, this.tolerance * 10);
      for (const r of rings) filled += perimeter(r);
      const t = triangulate(rings, 'evenodd');
      if (isIntricate(rings)) {
        this.ledger.add({
          carryOver: 'colour',
          action: 'approximated',
          reason: 'fill-filled-roughly',
          id: e.id,
        });
      }
      const look = filledLook({ ...e.look, stroke: { kind: 'byBlock' } });
      for (let i = 0; i + 5 < t.length; i += 6) {
        const corner = (k: number): [number, number, number] => [t[i + 2 * k]!, t[i + 2 * k + 1]!, e.elevation];
        const face: Entity = { kind: 'face', ...inner, look, solid: true, corners: [corner(0), corner(1), corner(2)] };
        parts.push(face);
      }
    }
    const name = `*X${++this.names}`;
    this.made.set(name.toLowerCase(), { name, base: [0, 0, 0], entities: parts });
    const reason = pattern ? 'patterns-as-blocks-of-lines' : 'fills-as-blocks-of-corners';
    for (const { fillKey, scale } of this.placesOf(this.source)) {
      this.ledger.add({
        carryOver: pattern ? 'colour' : 'curves',
        action: pattern ? 'changed' : 'approximated',
        reason,
        onPurpose: true,
        id: e.id,
        becomes: { from, to: 'insert', gone: 1, entities: 1 },
        ...(!pattern && {
          deviation: { value: Number((this.tolerance * 10 * scale).toPrecision(2)), unit: this.options.unit },
        }),
        ...(filled !== 0 && { filled: { [fillKey]: filled * scale } }),
      });
      this.ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        id: e.id,
        reason: pattern ? 'hatch-block-lines' : 'hatch-block-corners',
        becomes: { from: 'part', to: pattern ? 'line' : 'face', gone: 0, entities: parts.length },
      });
    }
    if (pattern?.tooDense) {
      this.ledger.add({
        carryOver: 'colour',
        action: 'approximated',
        reason: 'hatch-cut-short',
        id: e.id,
      });
    }
    const colour = e.look.fill.kind === 'none' ? e.look.stroke : e.look.fill;
    return [
      {
        kind: 'insert',
        ...this.base(e),
        look: { ...e.look, stroke: colour, fill: { kind: 'none' } },
        block: name,
        at: [0, 0, 0],
        scale: [1, 1, 1],
        rotation: 0,
        columns: 1,
        rows: 1,
        columnSpacing: 0,
        rowSpacing: 0,
        attributes: [],
      },
    ];
  }

  /** What of a line without end lies within the drawing's extent. */
  private ray(e: Ray): Entity[] {
    const ends = rayWithin(e.at, e.direction, e.both, this.box);
    if (!ends) {
      this.became(e, 'nothing', 0, 'endless-line-missed');
      return [];
    }
    this.became(e, 'line', 1, 'endless-line-ended');
    return [{ kind: 'line', ...this.base(e), start: ends[0], end: ends[1] }];
  }
}

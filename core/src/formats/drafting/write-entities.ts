import { because } from '../../drawing/reasons.js';
import { derive, insertOf } from '../../drawing/derive.js';
import type { Vec3 } from '../../geometry/vector.js';
import type { Appearance } from '../../drawing/appearance.js';
import type { PathData } from '../../geometry/path.js';
import { tellEach } from './places.js';
import { everyKindIsNamed } from '../../drawing/kinds.js';
import type { Entity, Insert, Opaque, Path, Polyline, Spline } from '../../drawing/entity.js';
import type { EntityTags } from './entity-tags.js';
import { splitSubpaths } from '../../geometry/path.js';
import type { ArcVertex } from '../../geometry/arc-fit.js';
import { fitArcs } from '../../geometry/arc-fit.js';
import { evaluate } from '../../geometry/nurbs.js';
import { piecesOf } from '../../geometry/path-pieces.js';
import { lengthOf } from '../../drawing/measures.js';
import { draftingCurve } from './path-drafting.js';
import type { RawTag } from './raw-tags.js';
import { formatRaw, parseRaw } from './raw-tags.js';
import { knowsKind } from './versions.js';
import { writeDimension, writeLeader, writeRichText, writeText } from './write-annotations.js';
import { fillOf } from './write-fills.js';
import { writeHatch } from './write-hatch.js';
import { writeImage, writeViewport } from './write-placed.js';
import { wideLine } from './wide-lines.js';
import { heavyPolyline, sequenceEnd, writeMesh } from './write-polyline.js';
import { COINCIDENT, isFullTurn } from '../../geometry/tolerance.js';

/** The look of an outline without its fill, whose colour it borrows when it has none of its own. */
const outlined = (look: Appearance): Appearance => ({
  ...look,
  stroke: look.stroke.kind === 'none' ? look.fill : look.stroke,
  fill: { kind: 'none' },
});

/** Writes one entity (or the several it becomes) into the space of `owner`. */
export function writeEntity(w: EntityTags, e: Entity, owner: string): void {
  const { x } = w;
  const { out } = x;
  switch (e.kind) {
    case 'line': {
      if (w.whole('LINE', e, owner)) return;
      const wide = wideLine(w, e);
      if (wide) return lightPolyline(w, wide, owner);
      w.begin('LINE', e, owner, 'AcDbLine');
      w.thickness(e);
      out.point(10, e.start);
      out.point(11, e.end);
      w.normal(e);
      return w.end(e);
    }
    case 'point':
      if (w.whole('POINT', e, owner)) return;
      w.begin('POINT', e, owner, 'AcDbPoint');
      out.point(10, e.at);
      w.thickness(e);
      w.normal(e);
      return w.end(e);
    case 'ray':
      w.begin(e.both ? 'XLINE' : 'RAY', e, owner, e.both ? 'AcDbXline' : 'AcDbRay');
      out.point(10, e.at);
      out.point(11, e.direction);
      return w.end(e);
    case 'circle':
      if (w.whole('CIRCLE', e, owner)) return;
      fillOf(w, e, owner);
      w.begin('CIRCLE', e, owner, 'AcDbCircle');
      w.thickness(e);
      out.point(10, e.centre);
      out.number(40, e.radius);
      w.normal(e);
      return w.end(e);
    case 'arc':
      if (w.whole('ARC', e, owner)) return;
      w.begin('ARC', e, owner, 'AcDbCircle');
      w.thickness(e);
      out.point(10, e.centre);
      out.number(40, e.radius);
      w.normal(e);
      w.subclass('AcDbArc');
      out.angle(50, e.start);
      out.angle(51, e.end);
      return w.end(e);
    case 'ellipse':
      fillOf(w, e, owner);
      w.begin('ELLIPSE', e, owner, 'AcDbEllipse');
      out.point(10, e.centre);
      out.point(11, e.major);
      w.normal(e);
      out.number(40, e.ratio);
      out.number(41, e.start);
      out.number(42, e.end);
      return w.end(e);
    case 'polyline':
      if (w.whole('LWPOLYLINE', e, owner)) return;
      fillOf(w, e, owner);
      return e.dim === 2 && !x.r12 ? lightPolyline(w, wideLine(w, e) ?? e, owner) : heavyPolyline(w, e, owner);
    case 'mesh':
      return writeMesh(w, e, owner);
    case 'spline':
      return spline(w, e, owner);
    case 'path':
      return path(w, e, owner);
    case 'hatch':
      return writeHatch(w, e, owner);
    case 'face': {
      w.begin(e.trace ? 'TRACE' : e.solid ? 'SOLID' : '3DFACE', e, owner, e.solid ? 'AcDbTrace' : 'AcDbFace', {
        area: e.solid,
      });
      const [a, b, c, d = c] = e.corners as readonly [Vec3, Vec3, Vec3, Vec3?];
      const order = e.solid && e.corners.length === 4 ? [a, b, d, c] : [a, b, c, d];
      order.forEach((p, i) => out.point(10 + i, p));
      if (e.hiddenEdges) out.integer(70, e.hiddenEdges);
      if (e.solid) w.thickness(e);
      if (e.solid) w.normal(e);
      return w.end(e);
    }
    case 'text':
      return writeText(w, e, owner);
    case 'richText':
      return writeRichText(w, e, owner);
    case 'dimension':
      return writeDimension(w, e, owner);
    case 'leader':
      return writeLeader(w, e, owner);
    case 'image':
      return writeImage(w, e, owner);
    case 'viewport':
      return writeViewport(w, e, owner);
    case 'insert':
      return insert(w, e, owner);
    case 'opaque':
      return opaque(w, e, owner);
    default:
      everyKindIsNamed(e);
  }
}

function insert(w: EntityTags, e: Insert, owner: string): void {
  const { x } = w;
  const { out } = x;
  const many = e.columns * e.rows > 1;
  if (w.whole('INSERT', e, owner, () => ({ name: x.blocks.nameFor(e.block), said: '' }))) return;
  const handle = w.begin('INSERT', e, owner, many ? 'AcDbMInsertBlock' : 'AcDbBlockReference');
  if (e.attributes.length > 0) out.integer(66, 1);
  out.string(2, x.blocks.nameFor(e.block));
  out.point(10, e.at);
  e.scale.forEach((k, i) => out.number(41 + i, k));
  out.angle(50, e.rotation);
  if (many) {
    out.integer(70, e.columns);
    out.integer(71, e.rows);
    out.number(44, e.columnSpacing);
    out.number(45, e.rowSpacing);
  }
  w.normal(e);
  w.end(e);
  if (e.attributes.length === 0) return;
  for (const a of e.attributes) writeText(w, a, handle);
  sequenceEnd(w, e, handle);
}

function lightPolyline(w: EntityTags, e: Polyline, owner: string): void {
  const { out } = w.x;
  w.begin('LWPOLYLINE', e, owner, 'AcDbPolyline');
  const n = e.points.length / 2;
  out.integer(90, n);
  out.integer(70, (e.closed ? 1 : 0) | (e.dashThrough ? 128 : 0));
  const constant = e.widths && e.widths.every((v) => v === e.widths![0]) ? (e.widths[0] ?? null) : null;
  if (constant !== null) out.number(43, constant);
  if (e.elevation !== 0) out.number(38, e.elevation);
  w.thickness(e);
  for (let i = 0; i < n; i++) {
    out.point2(10, e.points[2 * i]!, e.points[2 * i + 1]!);
    if (e.widths && constant === null) {
      out.number(40, e.widths[2 * i]!);
      out.number(41, e.widths[2 * i + 1]!);
    }
    if (e.bulges && e.bulges[i] !== 0) out.number(42, e.bulges[i]!);
  }
  w.normal(e);
  w.end(e);
}

function spline(w: EntityTags, e: Spline, owner: string): void {
  const { out } = w.x;
  w.begin('SPLINE', e, owner, 'AcDbSpline');
  const planar = ((e.flags ?? 0) & 8) !== 0;
  if (e.normal || planar) out.point(210, e.normal ?? [0, 0, 1]);
  const fit = e.fitPoints?.length ?? 0;
  const control = e.fitOnly ? 0 : e.points.length;
  out.integer(70, (e.closed ? 1 : 0) | (e.periodic ? 2 : 0) | (e.weights ? 4 : 0) | (e.flags ?? 0));
  out.integer(71, e.degree);
  out.integer(72, e.fitOnly ? 0 : e.knots.length);
  out.integer(73, control / 3);
  out.integer(74, fit / 3);
  if (e.startTangent) out.point(12, e.startTangent);
  if (e.endTangent) out.point(13, e.endTangent);
  if (!e.fitOnly) for (const k of e.knots) out.number(40, k);
  if (e.weights) for (const k of e.weights) out.number(41, k);
  for (let i = 0; i < control; i += 3) out.point(10, [e.points[i]!, e.points[i + 1]!, e.points[i + 2]!]);
  for (let i = 0; i < fit; i += 3) out.point(11, [e.fitPoints![i]!, e.fitPoints![i + 1]!, e.fitPoints![i + 2]!]);
  w.end(e);
}

/** Each subpath becomes the drafting curve that equals it; a filled path a hatch too. */
function path(w: EntityTags, e: Path, owner: string): void {
  const { x } = w;
  fillOf(w, e, owner);
  let gone = 1;
  for (const subpath of splitSubpaths(e.path)) {
    const curve = draftingCurve(subpath);
    if (!curve) {
      x.ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        onPurpose: true,
        id: e.id,
        reason: 'subpath-of-one-point',
      });
      continue;
    }
    const { id, look } = e;
    const { kind: _k, path: _p, ...base } = derive(e, 'piece', { kind: 'path', path: subpath });
    let became: Entity;
    if (curve.form === 'polyline') {
      const { points, bulges, closed } = curve;
      const curved = bulges.some((b) => b !== 0);
      became = { kind: 'polyline', ...base, points, dim: 2, elevation: 0, closed, ...(curved && { bulges }) };
      lightPolyline(w, wideLine(w, became) ?? became, owner);
    } else if (curve.form === 'ellipse') {
      became = ellipseOf(curve.arc, base);
      writeEntity(w, { ...became, look: outlined(look) } as Entity, owner);
    } else {
      const points = new Float64Array(curve.points);
      became = {
        kind: 'spline',
        ...base,
        degree: 3,
        knots: curve.knots,
        points,
        ...(curve.weights && { weights: curve.weights }),
        closed: curve.closed,
        periodic: false,
      };
      if (x.curves === 'arcs') {
        arcsFor(w, became, e, base, owner, gone);
        gone = 0;
        continue;
      }
      if (x.curves === 'pieces') {
        piecesFor(w, subpath, e, base, owner, gone);
        gone = 0;
        continue;
      }
      spline(w, became, owner);
    }
    const { kind } = became;
    const left = gone;
    tellEach(x.ledger, x.placesOf(e), () => ({
      carryOver: 'curves',
      action: 'changed',
      reason: because('outlines-as-kind', { kind }),
      onPurpose: true,
      becomes: { from: 'path', to: kind, gone: left, entities: 1 },
      id,
    }));
    gone = 0;
  }
}

type Base = Pick<Path, 'id' | 'layer' | 'look' | 'normal'>;

/** The arcs that stand for a spline within the tolerance, as one polyline. */
function arcsFor(w: EntityTags, exact: Spline, e: Path, base: Base, owner: string, gone: number): void {
  const { x } = w;
  const at = (t: number): [number, number] => {
    const p = [0, 0, 0];
    evaluate(exact, t, p);
    return [p[0]!, p[1]!];
  };
  const list: ArcVertex[] = [];
  let deviation = 0;
  const segments = exact.knots[exact.knots.length - 1]!;
  for (let s = 0; s < segments; s++) {
    const fit = fitArcs(at, s, s + 1, x.tolerance);
    deviation = Math.max(deviation, fit.deviation);
    list.push(...fit.vertices.slice(0, s + 1 < segments ? -1 : undefined));
  }
  if (exact.closed) list.pop();
  const made: Polyline = {
    kind: 'polyline',
    ...base,
    points: Float64Array.from(list.flatMap((v) => [v.x, v.y])),
    dim: 2,
    elevation: 0,
    closed: exact.closed,
    ...(list.some((v) => v.bulge !== 0) && { bulges: Float64Array.from(list, (v) => v.bulge) }),
  };
  lightPolyline(w, made, owner);
  const { normal: _n, ...plain } = base;
  const longer = lengthOf(made) - lengthOf({ ...exact, ...plain, normal: undefined });
  tellEach(x.ledger, x.placesOf(e), ({ key, scale }) => ({
    carryOver: 'curves',
    action: 'approximated',
    reason: 'outlines-as-polylines-of-arcs',
    onPurpose: true,
    deviation: { value: Number((deviation * scale).toPrecision(2)), unit: x.unit },
    becomes: { from: 'path', to: 'polyline', gone, entities: 1 },
    added: { [key]: longer * scale },
    id: e.id,
  }));
}

/** Every piece of a path as an entity of its own, held together by a group. */
function piecesFor(w: EntityTags, subpath: PathData, e: Path, base: Base, owner: string, gone: number): void {
  const { x } = w;
  const members: string[] = [];
  const put = (made: Entity): void => {
    const before = w.lastHandle;
    kinds.set(made.kind, (kinds.get(made.kind) ?? 0) + 1);
    writeEntity(w, made, owner);
    if (w.lastHandle !== before) members.push(w.lastHandle);
  };
  const look = outlined(base.look);
  const kinds = new Map<Entity['kind'], number>();
  for (const { pieces } of piecesOf(subpath, false)) {
    for (const p of pieces) {
      if (p.kind === 'arc') {
        const circular = Math.abs(p.rx - p.ry) <= COINCIDENT * p.rx;
        const [start, end] = p.sweep > 0 ? [p.start, p.start + p.sweep] : [p.start + p.sweep, p.start];
        if (circular)
          put({
            kind: 'arc',
            ...base,
            look,
            centre: [p.cx, p.cy, 0],
            radius: p.rx,
            start: start + p.rotation,
            end: end + p.rotation,
          });
        else put({ ...ellipseOf(p, base), look } as Entity);
      } else if (p.p.length === 4) {
        put({ kind: 'line', ...base, look, start: [p.p[0]!, p.p[1]!, 0], end: [p.p[2]!, p.p[3]!, 0] });
      } else {
        const degree = p.p.length / 2 - 1;
        const points = new Float64Array(3 * (degree + 1));
        for (let i = 0; i <= degree; i++) points.set([p.p[2 * i]!, p.p[2 * i + 1]!, 0], 3 * i);
        const knots = Float64Array.from([...Array<number>(degree + 1).fill(0), ...Array<number>(degree + 1).fill(1)]);
        put({ kind: 'spline', ...base, look, degree, knots, points, closed: false, periodic: false });
      }
    }
  }
  if (members.length > 1) x.groups.pieces(e.key ?? `path ${e.id}`, members);
  let left = gone;
  for (const [kind, entities] of kinds) {
    const leaves = left;
    tellEach(x.ledger, x.placesOf(e), () => ({
      carryOver: 'curves',
      action: 'changed',
      reason: 'outlines-as-pieces',
      onPurpose: true,
      becomes: { from: 'path', to: kind, gone: leaves, entities },
      id: base.id,
    }));
    left = 0;
  }
}

function ellipseOf(
  arc: { cx: number; cy: number; rx: number; ry: number; rotation: number; start: number; sweep: number },
  base: { id: number; layer: string; look: Appearance; normal?: Vec3 },
): Entity {
  // Drafting wants the longer half axis and a counter-clockwise sweep.
  const swap = arc.ry > arc.rx;
  const long = swap ? arc.ry : arc.rx;
  const turn = arc.rotation + (swap ? Math.PI / 2 : 0);
  const shift = swap ? -Math.PI / 2 : 0;
  const [from, to] = arc.sweep > 0 ? [arc.start, arc.start + arc.sweep] : [arc.start + arc.sweep, arc.start];
  const whole = isFullTurn(arc.sweep);
  return {
    kind: 'ellipse',
    ...base,
    centre: [arc.cx, arc.cy, 0],
    major: [long * Math.cos(turn), long * Math.sin(turn), 0],
    ratio: (swap ? arc.rx : arc.ry) / long,
    start: whole ? 0 : from + shift,
    end: whole ? 2 * Math.PI : to + shift,
  };
}

/**
 * What the model does not hold goes back in its own tags, with the owner it has in this file. Where it cannot, because
 * it was moved or the target does not know its kind, what shows it is written instead.
 */
function opaque(w: EntityTags, e: Opaque, owner: string): void {
  const { x } = w;
  const own =
    x.sameFormat && !e.stale && !x.r12 && (x.sameVersion || knowsKind(x.version, e.type)) && x.holds(e.type, e.raw);
  if (own) {
    const tags = parseRaw(e.raw);
    const handle = x.handles.keep(e.key, true);
    // The owner is the pointer after the groups in braces and before the first mark.
    let depth = 0;
    const mark = tags.findIndex(([c]) => c === 100);
    const out = x.pointers.clean(
      tags.map(([c, v], i): RawTag => {
        if (c === 102) depth += v.trim().startsWith('{') ? 1 : -1;
        if (c === 5 && (mark < 0 || i < mark)) return [5, handle];
        return c === 330 && depth === 0 && (mark < 0 || i < mark) ? [330, owner] : [c, v];
      }),
    );
    return x.out.raw(formatRaw(out));
  }
  const parts = e.drawn ?? [];
  const picture = e.picture !== undefined;
  x.ledger.add({
    carryOver: 'curves',
    action: parts.length > 0 || picture ? 'changed' : 'dropped',
    reason:
      parts.length > 0
        ? because('shown-by-parts', { what: e.type })
        : picture
          ? because('shown-by-picture', { what: e.type })
          : e.stale
            ? because('could-not-follow', { what: e.type })
            : because('cannot-be-written', { what: e.type }),
    onPurpose: parts.length > 0 || picture,
    becomes: {
      from: 'opaque',
      to: parts.length > 0 ? 'parts' : picture ? 'insert' : 'nothing',
      gone: 1,
      entities: parts.length > 0 ? parts.length : picture ? 1 : 0,
    },
    id: e.id,
  });
  for (const p of parts) writeEntity(w, p, owner);
  if (!picture) return;
  insert(w, insertOf(e, e.picture!), owner);
}

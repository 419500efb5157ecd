import { derive, insertOf } from './derive.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, applyPoints, applyVector, compose, inverse, planeFrame } from '../geometry/affine.js';
import { transformPath } from '../geometry/path.js';
import type { Vec3 } from '../geometry/vector.js';
import { cross, dot, length, unit } from '../geometry/vector.js';
import type { Appearance, Dash } from './appearance.js';
import { inObjectPlane } from './curves.js';
import type { Drawing } from './drawing.js';
import type { Arc, Circle, Draft, Ellipse, Entity, Insert, RichText, Text } from './entity.js';
import { everyKindIsNamed, isSpatial, spatialUnder } from './kinds.js';
import { movedSeeds, movedTangents } from './moved-fields.js';
import { outlinePath } from './outline-path.js';
import { partsOf, pictureOf } from './parts.js';
import { insertMatrix } from './resolve.js';
import { isPerpendicular, isSame } from '../geometry/tolerance.js';

const MAX_DEPTH = 64;

/**
 * What an insert shows, as entities of the space it lies in: its block's contents under its map, once per cell of its
 * array, with what they inherit from it filled in (layer 0, by block). Exact under unequal scales: circles and arcs
 * become ellipses, polylines with arcs become paths. `deep` breaks inserts within it too; an insert whose map is more
 * than a scale and a turn is always broken. A block within itself is left out.
 */
export function breakUp(insert: Insert, drawing: Drawing, deep = false): Entity[] {
  return contents(insert, drawing, IDENTITY, deep, new Set());
}

function contents(insert: Insert, drawing: Drawing, outer: Affine, deep: boolean, trail: Set<string>): Entity[] {
  const key = insert.block.toLowerCase();
  const block = drawing.blocks.get(key);
  if (!block || trail.has(key) || trail.size >= MAX_DEPTH) return [];
  trail.add(key);
  const out: Entity[] = [];
  for (let r = 0; r < insert.rows; r++) {
    for (let c = 0; c < insert.columns; c++) {
      const m = compose(outer, insertMatrix(insert, block, c, r));
      for (const e of block.entities) {
        if (e.kind === 'text' && e.definition && !e.definition.constant) continue;
        out.push(...placed(inherited(e, insert), drawing, m, deep, trail));
      }
    }
  }
  trail.delete(key);
  for (const a of insert.attributes) {
    if (a.hidden) continue;
    const { tag: _t, hidden: _h, ...text } = inherited(a, insert) as Text;
    out.push(...mapped(text, outer));
  }
  return out;
}

/** An entity of a block with what it takes from its insert filled in. Its own keys stay behind: there may be many copies. */
function inherited(e: Entity, insert: Insert): Entity {
  const { key: _k, sheet: _s, ...own } = e;
  const layer = e.layer === '0' ? insert.layer : e.layer;
  return {
    ...own,
    layer,
    look: inheritedLook(e.look, insert.look),
    ...(insert.sheet !== undefined && { sheet: insert.sheet }),
  } as Entity;
}

function inheritedLook(look: Appearance, from: Appearance): Appearance {
  const stroke = look.stroke.kind === 'byBlock' ? from.stroke : look.stroke;
  const fill = look.fill.kind === 'byBlock' ? from.stroke : look.fill;
  const width = look.width.kind === 'byBlock' ? from.width : look.width;
  const dash = inheritedDash(look.dash, from.dash);
  const same = stroke === look.stroke && fill === look.fill && width === look.width && dash === look.dash;
  const opacity = look.opacity * from.opacity;
  const opacityFrom = look.opacityFrom === 'block' ? from.opacityFrom : look.opacityFrom;
  if (same && opacity === look.opacity && opacityFrom === look.opacityFrom) return look;
  return { ...look, stroke, fill, width, dash, opacity, opacityFrom };
}

/** A linetype that is taken from the insert, at the scale of both, as it is seen in it. */
function inheritedDash(dash: Dash, from: Dash): Dash {
  if (dash.kind !== 'linetype' || !/^byblock$/i.test(dash.name)) return dash;
  return from.kind === 'linetype' && dash.scale !== 1 ? { ...from, scale: from.scale * dash.scale } : from;
}

function placed(e: Entity, drawing: Drawing, m: Affine, deep: boolean, trail: Set<string>): Entity[] {
  if (e.kind === 'insert') {
    const moved = deep ? null : movedInsert(e, m);
    return moved ? [moved] : contents(e, drawing, m, deep, trail);
  }
  const picture = pictureOf(e, drawing);
  if (picture !== undefined) {
    return contents(insertOf(e, picture), drawing, m, deep, trail);
  }
  const parts = partsOf(e, drawing);
  if (parts.length > 0) return parts.flatMap((p) => placed(p, drawing, m, deep, trail));
  return mapped(e, m);
}

/** The plane an entity comes to lie in, and the map from its old plane to the new one. */
function planeUnder(normal: Vec3 | undefined, m: Affine): { local: Affine; normal?: Vec3 } {
  const frame = planeFrame(normal ?? [0, 0, 1]);
  const x = applyVector(m, [frame[0], frame[1], frame[2]]);
  const y = applyVector(m, [frame[3], frame[4], frame[5]]);
  const across = cross(x, y);
  if (length(across) === 0) return { local: compose(m, frame) };
  // A map that turns the plane over is seen from the same side as before, mirrored.
  let n = unit(across);
  const before = applyVector(m, normal ?? [0, 0, 1]);
  if (dot(n, before) < 0) n = [-n[0], -n[1], -n[2]];
  const local = compose(inverse(planeFrame(n)), compose(m, frame));
  return n[0] === 0 && n[1] === 0 && n[2] > 0 ? { local } : { local, normal: n };
}

/** How far an entity is drawn out under a map, along the normal it has then; nothing where it is not. */
const thicknessUnder = (e: Entity, m: Affine, normal: Vec3 | undefined): number | undefined =>
  e.thickness && e.thickness * dot(applyVector(m, e.normal ?? [0, 0, 1]), normal ?? [0, 0, 1]);

/** What is drawn out along its normal, under a map: thickness is measured along the normal it has then. */
function drawnOut<E extends Entity>(e: Entity, under: E, m: Affine): E {
  if (inObjectPlane(e)) return { ...under, thickness: thicknessUnder(e, m, under.normal) };
  const along = applyVector(m, e.normal ?? [0, 0, 1]);
  const n = unit(along);
  const upright = n[0] === 0 && n[1] === 0 && n[2] > 0;
  return { ...under, thickness: e.thickness! * length(along), ...(!upright && { normal: n }) };
}

/**
 * One entity under any map that leaves its plane a plane. Nothing comes of compound entities, which are shown by their
 * parts.
 */
export function mapped(e: Entity, m: Affine): Entity[] {
  const flat = inObjectPlane(e);
  const { local, normal } = planeUnder(flat ? e.normal : undefined, m);
  const { normal: _n, ...own } = e;
  const plain = (normal && flat ? { ...own, normal } : own) as typeof e;
  const base = e.thickness === undefined ? plain : drawnOut(e, plain, m);
  if (isSpatial(base)) return [spatialUnder(base, m)];
  switch (base.kind) {
    case 'circle':
    case 'arc':
    case 'ellipse':
      return [ellipseUnder(e as Circle | Arc | Ellipse, m)];
    case 'polyline': {
      if (base.dim === 3) return [{ ...base, points: applyPoints(m, base.points) }];
      const path = base.bulges ? outlinePath(base) : null;
      if (path) {
        const at = raisedBy(local, base.elevation);
        return [derive(base, 'whole', { kind: 'path', path: transformPath(path, at) })];
      }
      const out = new Float64Array(base.points.length);
      let elevation = base.elevation;
      for (let i = 0; i < out.length; i += 2) {
        const p = applyPoint(local, [base.points[i]!, base.points[i + 1]!, base.elevation]);
        out[i] = p[0];
        out[i + 1] = p[1];
        elevation = p[2];
      }
      return [{ ...base, points: out, elevation }];
    }
    case 'spline': {
      const fit = base.fitPoints && applyPoints(m, base.fitPoints);
      return [
        { ...base, points: applyPoints(m, base.points), ...(fit && { fitPoints: fit }), ...movedTangents(base, m) },
      ];
    }
    case 'path':
      return [{ ...base, path: transformPath(base.path, local) }];
    case 'hatch': {
      const at = raisedBy(local, base.elevation);
      const elevation = applyPoint(local, [0, 0, base.elevation])[2];
      const lines = base.lines?.map((l) => {
        const p = applyPoint(at, [l.base[0], l.base[1], 0]);
        const s = applyVector(local, [l.step[0], l.step[1], 0]);
        const d = applyVector(local, [Math.cos(l.angle), Math.sin(l.angle), 0]);
        const k = Math.hypot(d[0], d[1]);
        return {
          angle: Math.atan2(d[1], d[0]),
          base: [p[0], p[1]] as const,
          step: [s[0], s[1]] as const,
          dashes: l.dashes.map((v) => v * k),
        };
      });
      return [
        {
          ...base,
          loops: base.loops.map((l) => ({ ...l, path: transformPath(l.path, at) })),
          elevation,
          ...(lines && { lines }),
          ...movedSeeds(base, at),
        },
      ];
    }
    case 'face': {
      const map = flat ? local : m;
      return [{ ...base, corners: base.corners.map((c) => applyPoint(map, c)) }];
    }
    case 'text':
      return [textUnder(base, local)];
    case 'richText':
      return [textUnder(base, m)];
    case 'insert':
    case 'viewport':
    case 'dimension':
    case 'opaque':
      return [];
    default:
      return everyKindIsNamed(base);
  }
}

/** The map with a height added before it, for paths, whose points have none. */
const raisedBy = (m: Affine, z: number): Affine =>
  z === 0 ? m : [m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], ...applyPoint(m, [0, 0, z])];

/**
 * A circle, arc or ellipse under any map: the images of two half axes square to each other are conjugate, and turning
 * them by t with tan 2t = 2 u·v / (u² − v²) makes them square again (Rytz).
 */
function ellipseUnder(e: Circle | Arc | Ellipse, m: Affine): Entity {
  const normal = e.normal ?? ([0, 0, 1] as Vec3);
  const frame = e.kind === 'ellipse' ? null : compose(m, planeFrame(normal));
  let [u, v, centre]: Vec3[] = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  if (e.kind === 'ellipse') {
    const minor = cross(unit(normal), e.major);
    u = applyVector(m, e.major);
    v = applyVector(m, [minor[0] * e.ratio, minor[1] * e.ratio, minor[2] * e.ratio]);
    centre = applyPoint(m, e.centre);
  } else {
    u = applyVector(frame!, [e.radius, 0, 0]);
    v = applyVector(frame!, [0, e.radius, 0]);
    centre = applyPoint(frame!, e.centre);
  }
  const whole = e.kind === 'circle';
  let [start, end] = whole ? [0, 2 * Math.PI] : [e.start, e.end];
  let t = 0.5 * Math.atan2(2 * dot(u, v), dot(u, u) - dot(v, v));
  // Equal half axes may stay as they are.
  if (Math.abs(dot(u, v)) <= 1e-14 * dot(u, u) && Math.abs(dot(u, u) - dot(v, v)) <= 1e-14 * dot(u, u)) t = 0;
  const turned = (a: number): Vec3 => {
    const [c, s] = [Math.cos(a), Math.sin(a)];
    return [u[0] * c + v[0] * s, u[1] * c + v[1] * s, u[2] * c + v[2] * s];
  };
  const major = turned(t);
  const minor = turned(t + Math.PI / 2);
  if (!whole) [start, end] = [start - t, end - t];
  const up = unit(cross(major, minor));
  const facing = up[0] === 0 && up[1] === 0 && up[2] > 0;
  // What stays round in its plane stays a circle or an arc, whatever happens to heights.
  if (e.kind !== 'ellipse' && facing && isSame(length(minor), length(major))) {
    const base = { normal: undefined, thickness: thicknessUnder(e, m, undefined), centre, radius: length(major) };
    if (whole) return derive(e, 'whole', { kind: 'circle', ...base });
    const angle = (a: number): number => {
      const p = turned(a + t);
      return Math.atan2(p[1], p[0]);
    };
    return derive(e, 'whole', { kind: 'arc', ...base, start: angle(start), end: angle(end) });
  }
  const ratio = Math.min(1, length(minor) / length(major));
  const facingTo = facing ? undefined : up;
  return derive(e, 'whole', {
    kind: 'ellipse',
    centre,
    major,
    ratio,
    start,
    end,
    normal: facingTo,
    thickness: thicknessUnder(e, m, facingTo),
  });
}

/** Text keeps its baseline's place and direction, its height square to it, and leans and stretches as it must. */
function textUnder<T extends Text | RichText>(t: T, m: Affine): T {
  const oblique = t.kind === 'text' ? t.oblique : 0;
  const [c, s] = [Math.cos(t.rotation), Math.sin(t.rotation)];
  const u = applyVector(m, [c, s, 0]);
  const lean = Math.tan(oblique);
  const v = applyVector(m, [-s + c * lean, c + s * lean, 0]);
  const l = Math.hypot(u[0], u[1]) || 1;
  const [ux, uy] = [u[0] / l, u[1] / l];
  const along = v[0] * ux + v[1] * uy;
  const across = -v[0] * uy + v[1] * ux;
  const k = Math.abs(across) || 1;
  const at = applyPoint(m, t.at);
  const moved = { ...t, at, size: t.size * k, rotation: Math.atan2(uy, ux) };
  if (moved.kind === 'richText') return { ...moved, width: (t as RichText).width * l };
  const text = moved as Draft<Text>;
  if (text.other) text.other = applyPoint(m, text.other);
  if (text.spacing !== undefined) text.spacing *= l;
  if (text.along) text.along = { path: transformPath(text.along.path, m), offset: text.along.offset * l };
  text.widthFactor *= l / k;
  text.oblique = Math.atan2(along * Math.sign(across || 1), k);
  return moved;
}

/** The insert under a map, where it comes out as scales and a turn again; `null` where it would lean. */
function movedInsert(e: Insert, m: Affine): Insert | null {
  if (e.attributes.length > 0 || (e.normal && (e.normal[0] !== 0 || e.normal[1] !== 0 || e.normal[2] < 0))) return null;
  if (m[2] !== 0 || m[5] !== 0 || m[6] !== 0 || m[7] !== 0) return null;
  const own = insertMatrix(e, undefined);
  const all = compose(m, own);
  const [x, y] = [
    [all[0], all[1]],
    [all[3], all[4]],
  ];
  const [lx, ly] = [Math.hypot(x[0]!, x[1]!), Math.hypot(y[0]!, y[1]!)];
  if (!isPerpendicular(x[0]!, x[1]!, y[0]!, y[1]!) || lx === 0 || ly === 0) return null;
  const many = e.columns * e.rows > 1;
  if (many && (m[1] !== 0 || m[3] !== 0)) return null;
  const sx = e.scale[0] < 0 ? -lx : lx;
  const rotation = Math.atan2(x[1]! * Math.sign(sx), x[0]! * Math.sign(sx));
  const turned = x[0]! * y[1]! - x[1]! * y[0]! < 0;
  const sy = turned === sx < 0 ? ly : -ly;
  return {
    ...e,
    at: applyPoint(m, e.at),
    scale: [sx, sy, e.scale[2] * m[8]],
    rotation: e.rotation === 0 && x[1] === 0 && x[0]! * sx > 0 ? 0 : rotation,
    columnSpacing: e.columnSpacing * m[0],
    rowSpacing: e.rowSpacing * m[4],
  };
}

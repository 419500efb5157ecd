import { isSpatial, spatialUnder } from './kinds.js';
import { insertOf } from './derive.js';
import type { Affine } from '../geometry/affine.js';
import {
  applyPoint,
  applyPoints,
  applyVector,
  compose,
  determinant,
  inverse,
  planarSimilarity,
  planeFrame,
} from '../geometry/affine.js';
import { transformPath } from '../geometry/path.js';
import type { Vec3 } from '../geometry/vector.js';
import { unit } from '../geometry/vector.js';
import type { Appearance, Paint } from './appearance.js';
import { AppearancePool } from './appearance.js';
import { inObjectPlane } from './curves.js';
import type { Block, DimensionStyle, Drawing } from './drawing.js';
import { dimensionLook } from './dimension-style.js';
import { formatMeasured, isAngular, measuredValue } from './dimension.js';
import type { Dimension, Draft, Entity, PatternLine, Text, Viewport } from './entity.js';
import { movedSeeds, movedTangents } from './moved-fields.js';
import { movedExtended, movedRest } from './tag-lengths.js';

/** A map that keeps shapes: uniform scale, turn about z, shift, and a mirror of y or not. */
interface Similarity {
  m: Affine;
  scale: number;
  mirrored: boolean;
  turn: number;
  pool: AppearancePool;
  looks: Map<Appearance, Appearance>;
}

/** What could not follow as it was: it became an insert of its picture, went stale, or keeps a number that was typed. */
export type Follower = 'insert' | 'stale' | 'number';

/**
 * Moves a whole drawing by a similarity: shift, turn, uniform scale (z too), with or without a mirror. Exact for every
 * kind. Text is turned and scaled but stays readable under a mirror. Opaque entities cannot follow: those with a
 * picture block become an insert of it, the others are marked stale; `onLost` is told of both.
 * Throws `RangeError` for a map that is no similarity.
 */
export function transformDrawing(
  drawing: Drawing,
  m: Affine,
  onLost: (entity: Entity, became: Follower) => void = () => {},
): Drawing {
  const scale = planarSimilarity(m);
  if (scale === null || scale === 0) throw new RangeError('a whole drawing is only moved by maps that keep shapes');
  const s: Similarity = {
    m,
    scale,
    mirrored: determinant(m) < 0,
    turn: Math.atan2(m[1], m[0]),
    pool: new AppearancePool(),
    looks: new Map(),
  };
  const entities = drawing.entities.map((e) =>
    e.sheet === undefined ? move(e, s, onLost) : e.kind === 'viewport' ? movedView(e, s) : e,
  );
  const blocks = movedPictures(drawing, s, onLost);
  const header = new Map(drawing.header);
  for (const name of scale === 1 ? [] : ['$LTSCALE', '$DIMSCALE', '$TEXTSIZE']) {
    const value = header.get(name);
    if (value)
      header.set(
        name,
        value.map(([code, text]) => [code, String(Number(text) * scale)]),
      );
  }
  // Where nobody says how long dashes are in all, they are as long as their linetypes say: smaller in what is made smaller.
  if (scale !== 1 && !header.has('$LTSCALE') && drawing.linetypes.some((l) => l.pattern.length > 0))
    header.set('$LTSCALE', [[40, String(scale)]]);
  let page = drawing.page;
  if (page) {
    const a = applyPoint(m, [page.x, page.y, 0]);
    const b = applyPoint(m, [page.x + page.width, page.y + page.height, 0]);
    page = {
      x: Math.min(a[0], b[0]),
      y: Math.min(a[1], b[1]),
      width: Math.abs(b[0] - a[0]),
      height: Math.abs(b[1] - a[1]),
    };
  }
  return {
    ...drawing,
    entities,
    blocks,
    header,
    page,
    ...(scale !== 1 && {
      dimensionStyles: stylesInUse(drawing).map((d) => ({ ...d, tags: scaledStyle(d.tags, scale) })),
      textStyles: drawing.textStyles.map((t) => ({ ...t, fixedHeight: t.fixedHeight * scale })),
    }),
  };
}

/** The dimension styles of a drawing, with those that dimensions name and nobody describes: they have sizes all the same. */
function stylesInUse(drawing: Drawing): DimensionStyle[] {
  const styles = new Map(drawing.dimensionStyles.map((d) => [d.name.toLowerCase(), d]));
  const look = (list: readonly Entity[]): void => {
    for (const e of list)
      if (
        (e.kind === 'dimension' || e.kind === 'leader') &&
        e.style !== undefined &&
        !styles.has(e.style.toLowerCase())
      )
        styles.set(e.style.toLowerCase(), { name: e.style, tags: [] });
  };
  look(drawing.entities);
  for (const b of drawing.blocks.values()) look(b.entities);
  return [...styles.values()];
}

/** The sizes of a dimension style all hang on its overall scale (40), which is 1 when it is not stated. */
function scaledStyle(tags: [number, string][], scale: number): [number, string][] {
  if (!tags.some(([c]) => c === 40)) return [[40, String(scale)], ...tags];
  return tags.map(([c, v]) => (c === 40 ? [c, String(Number(v) * scale)] : [c, v]));
}

/** A window of a sheet goes on showing the same part of the moved model. */
function movedView(v: Viewport, s: Similarity): Viewport {
  return {
    ...v,
    target: applyPoint(s.m, v.target),
    centre: [v.centre[0] * s.scale, v.centre[1] * s.scale],
    viewHeight: v.viewHeight * s.scale,
    twist: v.twist - s.turn,
  };
}

/**
 * The picture blocks of dimensions hold lines in the space of the dimension, so they move with it, and the number in
 * them is written anew from what is measured now. Where no such number is found, one was typed, and it stays.
 */
function movedPictures(
  drawing: Drawing,
  s: Similarity,
  onLost: (e: Entity, became: Follower) => void,
): Drawing['blocks'] {
  let blocks: Map<string, Block> | null = null;
  for (const e of drawing.entities) {
    if (e.kind !== 'dimension' || e.picture === undefined || e.sheet !== undefined) continue;
    const key = e.picture.toLowerCase();
    const block = drawing.blocks.get(key);
    if (!block || (blocks?.get(key) !== undefined && blocks.get(key) !== block)) continue;
    blocks ??= new Map(drawing.blocks);
    const number = s.scale === 1 ? null : numberChange(e, drawing, s.scale);
    let found = number === null;
    const entities = block.entities.map((part) => {
      const moved = move(part, s, onLost);
      if (!number) return moved;
      if (moved.kind === 'text' && moved.text.includes(number.from)) {
        found = true;
        const { content: _c, ...rest } = moved;
        return { ...rest, text: moved.text.replace(number.from, number.to) };
      }
      if (moved.kind === 'richText' && moved.content.includes(number.from)) {
        found = true;
        const { from, to } = number;
        return { ...moved, content: moved.content.replace(from, to), plain: moved.plain.replace(from, to) };
      }
      return moved;
    });
    if (!found) onLost(e, 'number');
    blocks.set(key, { ...block, entities });
  }
  return blocks ?? drawing.blocks;
}

/** The shown value before and after lengths are multiplied; `null` for angles, which stay. */
function numberChange(d: Dimension, drawing: Drawing, scale: number): { from: string; to: string } | null {
  const value = measuredValue(d) ?? d.stated;
  if (value === undefined || isAngular(d)) return null;
  const look = dimensionLook(drawing, d.style, d.extended);
  const bare = { ...look, wrapping: '' };
  const digits = (v: number): string => formatMeasured(d, v, bare).replace(/^[RØ]/, '');
  return { from: digits(value), to: digits(value * scale) };
}

function move(entity: Entity, s: Similarity, onLost: (e: Entity, became: Follower) => void): Entity {
  const moved: Draft<Entity> = movedShape(entity, s, onLost);
  const { scale } = s;
  if (moved.thickness !== undefined && scale !== 1) moved.thickness *= scale;
  if (moved.rest !== undefined) moved.rest = movedRest(moved.rest, s.m, scale, s.mirrored);
  if (moved.extended !== undefined) moved.extended = movedExtended(moved.extended, s.m, scale);
  return moved;
}

function movedShape(entity: Entity, s: Similarity, onLost: (e: Entity, became: Follower) => void): Entity {
  const { m, scale, mirrored } = s;
  const look = movedLook(entity.look, s);
  const frame = frameOf(entity, s);
  const local = frame.map;
  const normal = frame.normal;
  const base = normal ? { look, normal } : { look };
  if (isSpatial(entity)) return spatialUnder(entity, m, base);
  switch (entity.kind) {
    case 'polyline': {
      const { dim } = entity;
      const points = new Float64Array(entity.points.length);
      let elevation = entity.elevation;
      for (let i = 0; i < points.length; i += dim) {
        const p = applyPoint(local, [
          entity.points[i]!,
          entity.points[i + 1]!,
          dim === 3 ? entity.points[i + 2]! : entity.elevation,
        ]);
        points[i] = p[0];
        points[i + 1] = p[1];
        if (dim === 3) points[i + 2] = p[2];
        else elevation = p[2];
      }
      const bulges = mirrored ? entity.bulges?.map((b) => -b) : entity.bulges;
      const widths = scale === 1 ? entity.widths : entity.widths?.map((w) => w * scale);
      return { ...entity, ...base, points, elevation, ...(bulges && { bulges }), ...(widths && { widths }) };
    }
    case 'circle':
      return { ...entity, ...base, centre: applyPoint(local, entity.centre), radius: entity.radius * scale };
    case 'arc': {
      const angle = (a: number): number => localAngle(local, a);
      const [start, end] = mirrored
        ? [angle(entity.end), angle(entity.start)]
        : [angle(entity.start), angle(entity.end)];
      return {
        ...entity,
        ...base,
        centre: applyPoint(local, entity.centre),
        radius: entity.radius * scale,
        start,
        end,
      };
    }
    case 'ellipse': {
      const [start, end] = mirrored ? [-entity.end, -entity.start] : [entity.start, entity.end];
      return {
        ...entity,
        ...base,
        centre: applyPoint(m, entity.centre),
        major: applyVector(m, entity.major),
        start,
        end,
      };
    }
    case 'spline': {
      const fit = entity.fitPoints && applyPoints(m, entity.fitPoints);
      return {
        ...entity,
        ...base,
        points: applyPoints(m, entity.points),
        ...(fit && { fitPoints: fit }),
        ...movedTangents(entity, m),
      };
    }
    case 'path':
      return { ...entity, ...base, path: transformPath(entity.path, local) };
    case 'hatch':
      return {
        ...entity,
        ...base,
        loops: entity.loops.map((l) => ({ ...l, path: transformPath(l.path, local) })),
        elevation: applyPoint(local, [0, 0, entity.elevation])[2],
        scale: entity.scale * scale,
        angle: localAngle(local, entity.angle),
        ...(entity.lines && { lines: entity.lines.map((l) => movedPattern(l, local, scale)) }),
        ...(entity.gradient && { gradient: { ...entity.gradient, angle: localAngle(local, entity.gradient.angle) } }),
        ...movedSeeds(entity, local),
      };
    case 'face': {
      const map = inObjectPlane(entity) ? local : m;
      return { ...entity, ...base, corners: entity.corners.map((c) => applyPoint(map, c)) };
    }
    case 'text':
      return { ...moveText(entity, local, scale), ...base };
    case 'richText':
      return {
        ...entity,
        ...base,
        at: applyPoint(m, entity.at),
        size: entity.size * scale,
        width: entity.width * scale,
        rotation: localAngle(m, entity.rotation),
      };
    case 'insert': {
      // A mirror turns the block over in its own y.
      const k: Vec3 = [scale, mirrored ? -scale : scale, scale];
      return {
        ...entity,
        ...base,
        at: applyPoint(local, entity.at),
        rotation: localAngle(local, entity.rotation),
        scale: [entity.scale[0] * k[0], entity.scale[1] * k[1], entity.scale[2] * k[2]],
        columnSpacing: entity.columnSpacing * k[0],
        rowSpacing: entity.rowSpacing * k[1],
        attributes: entity.attributes.map((a) => ({
          ...moveText(a, local, scale),
          look: movedLook(a.look, s),
          ...(a.rest !== undefined && { rest: movedRest(a.rest, m, scale, mirrored) }),
        })),
      };
    }
    case 'viewport':
      return {
        ...entity,
        ...base,
        at: applyPoint(m, entity.at),
        width: entity.width * scale,
        height: entity.height * scale,
      };
    case 'dimension': {
      const points: Dimension['points'] = {};
      for (const code of [10, 11, 12, 13, 14, 15, 16, 17] as const) {
        const p = entity.points[code];
        if (p) points[code] = applyPoint(code === 11 || code === 12 || code === 16 ? local : m, p);
      }
      return {
        ...entity,
        ...base,
        points,
        rotation: localAngle(local, entity.rotation),
        ...(entity.oblique !== 0 && { oblique: localAngle(local, entity.oblique) }),
        ...(entity.stated !== undefined && { stated: isAngular(entity) ? entity.stated : entity.stated * scale }),
      };
    }
    case 'opaque': {
      if (!entity.picture) {
        onLost(entity, 'stale');
        const drawn = entity.drawn?.map((e) => move(e, s, () => {}));
        return { ...entity, stale: true, ...(drawn && { drawn }) };
      }
      onLost(entity, 'insert');
      const at: Vec3 = [m[9], m[10], m[11]];
      const size: Vec3 = [scale, mirrored ? -scale : scale, scale];
      return { ...insertOf({ ...entity, look }, entity.picture), at, scale: size, rotation: s.turn };
    }
  }
}

/** The map within an entity's own plane that the map of space amounts to, and the plane's new direction. */
function frameOf(entity: Entity, s: Similarity): { map: Affine; normal?: Vec3 } {
  const n = entity.normal;
  if (!n || (n[0] === 0 && n[1] === 0 && n[2] > 0)) return { map: s.m };
  const normal = unit(applyVector(s.m, n));
  if (!inObjectPlane(entity) && entity.kind !== 'dimension') return { map: s.m, normal };
  return { map: compose(inverse(planeFrame(normal)), compose(s.m, planeFrame(n))), normal };
}

/** The angle in the plane at which a direction of angle `a` comes out. Exactly `a` where the map does not turn. */
function localAngle(m: Affine, a: number): number {
  if (m[1] === 0 && m[3] === 0 && m[0] > 0) {
    if (m[4] > 0) return a;
    return a === 0 ? 0 : -a;
  }
  const v = applyVector(m, [Math.cos(a), Math.sin(a), 0]);
  return Math.atan2(v[1], v[0]);
}

function movedPattern(l: PatternLine, local: Affine, scale: number): PatternLine {
  const base = applyPoint(local, [l.base[0], l.base[1], 0]);
  const step = applyVector(local, [l.step[0], l.step[1], 0]);
  return {
    angle: localAngle(local, l.angle),
    base: [base[0], base[1]],
    step: [step[0], step[1]],
    dashes: l.dashes.map((d) => d * scale),
  };
}

function moveText(t: Text, local: Affine, scale: number): Text {
  const moved: Draft<Text> = {
    ...t,
    at: applyPoint(local, t.at),
    size: t.size * scale,
    rotation: localAngle(local, t.rotation),
  };
  if (t.other) moved.other = applyPoint(local, t.other);
  if (t.spacing !== undefined) moved.spacing = t.spacing * scale;
  if (t.along) moved.along = { path: transformPath(t.along.path, local), offset: t.along.offset * scale };
  return moved;
}

/** A gradient goes where its shape goes. */
function movedPaint(paint: Paint, m: Affine): Paint {
  if (paint.kind !== 'gradient' || !paint.place) return paint;
  const [a, b, c, d, e, f] = paint.place.map;
  const map = [
    m[0] * a! + m[3] * b!,
    m[1] * a! + m[4] * b!,
    m[0] * c! + m[3] * d!,
    m[1] * c! + m[4] * d!,
    m[0] * e! + m[3] * f! + m[9],
    m[1] * e! + m[4] * f! + m[10],
  ];
  return { ...paint, place: { ...paint.place, map } };
}

function movedLook(look: Appearance, s: Similarity): Appearance {
  const placed =
    (look.fill.kind === 'gradient' && look.fill.place) || (look.stroke.kind === 'gradient' && look.stroke.place);
  if (!placed && (s.scale === 1 || (look.width.kind !== 'drawing' && look.dash.kind !== 'lengths'))) return look;
  const known = s.looks.get(look);
  if (known) return known;
  const { width, dash } = look;
  const moved = s.pool.share({
    ...look,
    fill: movedPaint(look.fill, s.m),
    stroke: movedPaint(look.stroke, s.m),
    width: width.kind === 'drawing' ? { kind: 'drawing', value: width.value * s.scale } : width,
    dash:
      dash.kind === 'lengths'
        ? { kind: 'lengths', lengths: dash.lengths.map((l) => l * s.scale), offset: dash.offset * s.scale }
        : dash,
  });
  s.looks.set(look, moved);
  return moved;
}

import type { Affine } from '../geometry/affine.js';
import { applyPoint, applyPoints, applyVector } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import { unit } from '../geometry/vector.js';
import type { Entity, EntityKind } from './entity.js';

/** What a field is in space: a place, many of them (x, y, z), a vector, or a direction of length 1. */
export type FieldRole = 'place' | 'places' | 'vector' | 'direction';

type Of<K extends EntityKind> = Extract<Entity, { kind: K }>;
type Roles<K extends EntityKind> = {
  readonly [F in Exclude<keyof Of<K>, keyof Entity>]?: Of<K>[F] extends Vec3
    ? 'place' | 'vector' | 'direction'
    : 'places';
};

/** What is known of a kind of entity as such. Everything that asks "what kinds …?" reads it here. */
export interface KindTraits<K extends EntityKind = EntityKind> {
  /** Its name on the page, for one and for several. */
  words: readonly [string, string];
  /** In what its coordinates are given: the plane of its normal, space, or one or the other by what it is (`inObjectPlane`). */
  plane: 'object' | 'world' | 'own';
  /** What shows it: curves of its own, letters, an area, a frame around something, the block it names, or parts it amounts to. */
  shown: 'curves' | 'letters' | 'area' | 'frame' | 'block' | 'parts';
  /** Its curves are outlines that can be followed, joined and cut along. */
  contour: boolean;
  /** Fields that lie in space, for kinds of which a map changes nothing else: moving and breaking up follow from them. */
  space?: Roles<K>;
}

/** All kinds; a new one without its line is an error of the compiler. */
const TABLE = {
  line: {
    words: ['line', 'lines'],
    plane: 'world',
    shown: 'curves',
    contour: true,
    space: { start: 'place', end: 'place' },
  },
  polyline: { words: ['polyline', 'polylines'], plane: 'own', shown: 'curves', contour: true },
  circle: { words: ['circle', 'circles'], plane: 'object', shown: 'curves', contour: true },
  arc: { words: ['arc', 'arcs'], plane: 'object', shown: 'curves', contour: true },
  ellipse: { words: ['ellipse', 'ellipses'], plane: 'world', shown: 'curves', contour: true },
  spline: { words: ['spline', 'splines'], plane: 'world', shown: 'curves', contour: true },
  path: { words: ['path', 'paths'], plane: 'object', shown: 'curves', contour: true },
  point: { words: ['point', 'points'], plane: 'world', shown: 'curves', contour: false, space: { at: 'place' } },
  ray: {
    words: ['construction line', 'construction lines'],
    plane: 'world',
    shown: 'curves',
    contour: false,
    space: { at: 'place', direction: 'direction' },
  },
  mesh: { words: ['mesh', 'meshes'], plane: 'world', shown: 'curves', contour: false, space: { points: 'places' } },
  face: { words: ['face', 'faces'], plane: 'own', shown: 'area', contour: true },
  hatch: { words: ['hatch', 'hatches'], plane: 'object', shown: 'area', contour: false },
  text: { words: ['text', 'texts'], plane: 'object', shown: 'letters', contour: false },
  richText: { words: ['rich text', 'rich texts'], plane: 'world', shown: 'letters', contour: false },
  image: {
    words: ['picture', 'pictures'],
    plane: 'world',
    shown: 'frame',
    contour: false,
    space: { at: 'place', u: 'vector', v: 'vector' },
  },
  viewport: { words: ['window of a sheet', 'windows of a sheet'], plane: 'world', shown: 'frame', contour: false },
  insert: { words: ['placed block', 'placed blocks'], plane: 'object', shown: 'block', contour: false },
  dimension: { words: ['dimension', 'dimensions'], plane: 'world', shown: 'parts', contour: false },
  leader: { words: ['leader', 'leaders'], plane: 'world', shown: 'parts', contour: false, space: { points: 'places' } },
  opaque: {
    words: ['object carried unread', 'objects carried unread'],
    plane: 'world',
    shown: 'parts',
    contour: false,
  },
} as const satisfies { readonly [K in EntityKind]: KindTraits<K> };

export const KINDS: { readonly [K in EntityKind]: KindTraits } = TABLE;

/** Entities that lie in space with all their fields. */
export type Spatial = Of<{ [K in EntityKind]: (typeof TABLE)[K] extends { space: object } ? K : never }[EntityKind]>;

export const isSpatial = (e: Entity): e is Spatial => KINDS[e.kind].space !== undefined;

const BY_ROLE: { readonly [R in FieldRole]: (value: Vec3 & Float64Array, m: Affine) => Vec3 | Float64Array } = {
  place: (p, m) => applyPoint(m, p),
  vector: (v, m) => applyVector(m, v),
  direction: (v, m) => unit(applyVector(m, v)),
  places: (list, m) => applyPoints(m, list),
};

/** The fields of each kind that lie in space, and what a map does to each; drawings hold such kinds by the hundred thousand. */
const SPACE_FIELDS = Object.fromEntries(
  Object.entries(KINDS).map(([kind, traits]) => {
    const fields = Object.entries(traits.space ?? {}) as [string, FieldRole][];
    return [kind, { names: fields.map(([name]) => name), maps: fields.map(([, role]) => BY_ROLE[role]) }];
  }),
);

/** An entity in space under any map, with what else changes of it. */
export function spatialUnder<E extends Spatial>(e: E, m: Affine, more?: Partial<E>): E {
  const { names, maps } = SPACE_FIELDS[e.kind]!;
  const out = { ...e, ...more } as Record<string, unknown>;
  for (let i = 0; i < names.length; i++) {
    const name = names[i]!;
    out[name] = maps[i]!(out[name] as Vec3 & Float64Array, m);
  }
  return out as unknown as E;
}

/** The name of a kind of entity, for one or several. */
export const kindName = (kind: EntityKind, count = 1): string => KINDS[kind].words[count === 1 ? 0 : 1];

/** Ends a switch over all kinds: one that is not named there is an error of the compiler. */
export const everyKindIsNamed = (kind: never): never => {
  throw new Error(`an entity of a kind that is none: ${JSON.stringify(kind)}`);
};

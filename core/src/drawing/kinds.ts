import type { EntityKind } from './entity.js';

/** What is known of a kind of entity as such. Everything that asks "what kinds …?" reads it here. */
export interface KindTraits {
  /** Its name on the page, for one and for several. */
  words: readonly [string, string];
  /** In what its coordinates are given: the plane of its normal, space, or one or the other by what it is (`inObjectPlane`). */
  plane: 'object' | 'world' | 'own';
  /** What shows it: curves of its own, letters, an area, a frame around something, the block it names, or parts it amounts to. */
  shown: 'curves' | 'letters' | 'area' | 'frame' | 'block' | 'parts';
  /** Its curves are outlines that can be followed, joined and cut along. */
  contour: boolean;
}

/** All kinds; a new one without its line is an error of the compiler. */
export const KINDS: { readonly [K in EntityKind]: KindTraits } = {
  line: { words: ['line', 'lines'], plane: 'world', shown: 'curves', contour: true },
  polyline: { words: ['polyline', 'polylines'], plane: 'own', shown: 'curves', contour: true },
  circle: { words: ['circle', 'circles'], plane: 'object', shown: 'curves', contour: true },
  arc: { words: ['arc', 'arcs'], plane: 'object', shown: 'curves', contour: true },
  ellipse: { words: ['ellipse', 'ellipses'], plane: 'world', shown: 'curves', contour: true },
  spline: { words: ['spline', 'splines'], plane: 'world', shown: 'curves', contour: true },
  path: { words: ['path', 'paths'], plane: 'object', shown: 'curves', contour: true },
  point: { words: ['point', 'points'], plane: 'world', shown: 'curves', contour: false },
  ray: { words: ['construction line', 'construction lines'], plane: 'world', shown: 'curves', contour: false },
  mesh: { words: ['mesh', 'meshes'], plane: 'world', shown: 'curves', contour: false },
  face: { words: ['face', 'faces'], plane: 'own', shown: 'area', contour: true },
  hatch: { words: ['hatch', 'hatches'], plane: 'object', shown: 'area', contour: false },
  text: { words: ['text', 'texts'], plane: 'object', shown: 'letters', contour: false },
  richText: { words: ['rich text', 'rich texts'], plane: 'world', shown: 'letters', contour: false },
  image: { words: ['picture', 'pictures'], plane: 'world', shown: 'frame', contour: false },
  viewport: { words: ['window of a sheet', 'windows of a sheet'], plane: 'world', shown: 'frame', contour: false },
  insert: { words: ['block', 'blocks'], plane: 'object', shown: 'block', contour: false },
  dimension: { words: ['dimension', 'dimensions'], plane: 'world', shown: 'parts', contour: false },
  leader: { words: ['leader', 'leaders'], plane: 'world', shown: 'parts', contour: false },
  opaque: {
    words: ['object carried unread', 'objects carried unread'],
    plane: 'world',
    shown: 'parts',
    contour: false,
  },
};

/** The name of a kind of entity, for one or several. */
export const kindName = (kind: EntityKind, count = 1): string => KINDS[kind].words[count === 1 ? 0 : 1];

/** Ends a switch over all kinds: one that is not named there is an error of the compiler. */
export const everyKindIsNamed = (kind: never): never => {
  throw new Error(`an entity of a kind that is none: ${JSON.stringify(kind)}`);
};

import type { Drawing } from './drawing.js';
import { curvesOf } from './curves.js';
import type { Entity } from './entity.js';
import { IDENTITY } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';

/** What an entity is, taken apart so that two can be compared: its words, its places and its other numbers. */
export interface EntityShape {
  /** Kind, text, block and the like: all that is no number. */
  words: string;
  /** x, y, z per place, in the drawing's coordinates. */
  places: number[];
  /** Radii, sweeps, sizes, angles, knots. */
  rest: number[];
}

/** The shape of an entity of the drawing. `blocks` keeps what is known of blocks while many entities are asked about. */
export function shapeOf(e: Entity, drawing: Drawing, blocks: Map<string, string>): EntityShape {
  const shape: EntityShape = { words: e.kind, places: [], rest: [] };
  const { places, rest } = shape;
  const put = (p: readonly number[] | Float64Array | undefined): void => {
    if (p) for (const v of p) places.push(v);
  };
  const say = (...words: unknown[]): void => void (shape.words += ` ${words.map(String).join(' ')}`);
  switch (e.kind) {
    case 'line': {
      // Which end comes first says nothing.
      const [a, b] = before(e.start, e.end) ? [e.start, e.end] : [e.end, e.start];
      put(a);
      put(b);
      break;
    }
    case 'text':
      say(
        e.text,
        e.horizontal,
        e.vertical,
        e.tag ?? '',
        e.font ? `${e.font.family} ${e.font.weight} ${e.font.italic}` : (e.style ?? ''),
      );
      put(e.at);
      put(e.other);
      rest.push(e.size, Math.cos(e.rotation), Math.sin(e.rotation), e.widthFactor, e.oblique);
      break;
    case 'richText':
      say(e.content, e.horizontal, e.vertical);
      put(e.at);
      rest.push(e.size, Math.cos(e.rotation), Math.sin(e.rotation), e.width, e.lineSpacing);
      break;
    case 'insert':
      say(
        e.block,
        e.rows,
        e.columns,
        ...e.attributes.map((a) => `${a.tag}=${a.text}`),
        blockWords(e.block, drawing, blocks),
      );
      put(e.at);
      rest.push(...e.scale, Math.cos(e.rotation), Math.sin(e.rotation), e.rowSpacing, e.columnSpacing);
      break;
    case 'dimension':
      say(e.form, e.override, e.style);
      // Where the text came to lie (11) follows from the rest unless it was placed by hand.
      for (const code of [10, 13, 14, 15, 16] as const) put(e.points[code]);
      rest.push(Math.cos(e.rotation), Math.sin(e.rotation), e.oblique);
      break;
    case 'leader':
      put(e.points);
      break;
    case 'point':
      put(e.at);
      break;
    case 'ray':
      put(e.at);
      rest.push(...e.direction);
      break;
    case 'mesh':
      put(e.points);
      break;
    case 'opaque':
      say(e.key ?? '');
      break;
    case 'hatch':
      say(e.pattern, e.solid);
      rest.push(e.angle, e.scale);
      for (const l of e.lines ?? []) rest.push(l.angle, ...l.base, ...l.step, ...l.dashes);
      collectCurves(e, shape);
      break;
    case 'image':
      say(e.pixels.join('x'));
      collectCurves(e, shape);
      break;
    case 'polyline':
      for (const w of e.widths ?? []) rest.push(w);
      collectCurves(e, shape);
      break;
    default:
      // All others are told apart by the curves they draw.
      collectCurves(e, shape);
  }
  return shape;
}

const before = (a: Vec3, b: Vec3): boolean =>
  a[0] !== b[0] ? a[0] < b[0] : a[1] !== b[1] ? a[1] < b[1] : a[2] <= b[2];

function collectCurves(e: Entity, { places, rest }: EntityShape): void {
  curvesOf(e, IDENTITY, {
    move: (x, y, z) => void places.push(x, y, z),
    line: (x, y, z) => void places.push(x, y, z),
    arc: (c, u, v, _start, sweep, x, y, z) => {
      places.push(c[0], c[1], c[2], x, y, z);
      rest.push(Math.hypot(...u), Math.hypot(...v), sweep);
    },
    cubic: (...p) => void places.push(...p),
    nurbs: (curve) => {
      for (const v of curve.points) places.push(v);
      for (const v of curve.knots) rest.push(v);
      for (const v of curve.weights ?? []) rest.push(v);
    },
  });
}

/** What a block holds, to nine digits, so that an insert of a block that was redrawn counts as changed. */
function blockWords(name: string, drawing: Drawing, blocks: Map<string, string>): string {
  const key = name.toLowerCase();
  const known = blocks.get(key);
  if (known !== undefined) return known;
  // A block within itself is cut here.
  blocks.set(key, '');
  let sum = 0;
  for (const e of drawing.blocks.get(key)?.entities ?? []) {
    const s = shapeOf(e, drawing, blocks);
    sum = mixed(
      sum,
      `${s.words} ${[...s.places, ...s.rest].map((v) => Number(v.toPrecision(9))).join(' ')} ${e.layer}`,
    );
  }
  const words = `#${(sum >>> 0).toString(36)}`;
  blocks.set(key, words);
  return words;
}

/** A running sum over text (the multiply-and-xor of FNV-1a, 32 bits). */
function mixed(sum: number, text: string): number {
  for (let i = 0; i < text.length; i++) sum = Math.imul(sum ^ text.charCodeAt(i), 0x01000193);
  return sum;
}

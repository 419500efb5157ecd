import { powerOfTen, tensOf } from '../geometry/power-of-ten.js';
import type { Drawing } from './drawing.js';
import type { Entity } from './entity.js';
import { shapeOf } from './entity-shape.js';

/**
 * A picked entity as it is kept with a plan: `kind/print/source key`, the print that of its shape in its place and, after a
 * point, that of its shape wherever it lies, if nothing else had that. Ids follow the order of reading, so one entity more in the next revision would
 * make them mean another; the key and the prints go with the entity itself. References kept before had the first print alone.
 */
export type EntityRef = string;

/** What SVG elements without an id are called: by their line, which moves with whatever stands above them. */
const BY_LINE = /^line \d+$/;

/** A text as eight hexadecimal digits, by FNV-1a (32 bits). */
export function printOf(text: string): string {
  let sum = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) sum = Math.imul(sum ^ text.charCodeAt(i), 0x01000193);
  return (sum >>> 0).toString(16).padStart(8, '0');
}

/** Coordinates this small beside the largest of an entity are none. */
const NOTHING = 1e-11;

interface Prints {
  readonly here: string;
  readonly anywhere: string;
}

/** The prints of an entity's shape, over its words and its numbers: in its place (to nine digits), and wherever it lies. */
function printsOf(e: Entity, drawing: Drawing): Prints {
  const { words, places, rest } = shapeOf(e, drawing, new Map());
  // What should be nothing and is a little by rounding is another little in another engine.
  const least = NOTHING * places.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  const whole = places.map((v) => (Math.abs(v) < least ? 0 : v));
  const here = printOf(`${words} ${[...whole, ...rest].map((v) => Number(v.toPrecision(9))).join(' ')}`);
  const from = places.slice(0, 3);
  const away = places.map((v, i) => v - from[i % 3]!);
  // What is moved is rounded anew: places count to a ten-millionth of what they span.
  const span = away.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  // Read from digits: powers and logarithms differ in the last place from one engine to another, and with them the print.
  const grain = span > 0 ? powerOfTen(tensOf(span) - 6) : 1;
  const shifted = away.map((v) => Math.round(v / grain) + 0);
  return {
    here,
    anywhere: printOf(`${words} ${grain} ${[...shifted, ...rest.map((v) => Number(v.toPrecision(7)))].join(' ')}`),
  };
}

/** The entities of one kind in a drawing, by the prints of their shape and by their key. */
interface OfKind {
  prints: Map<Entity, Prints>;
  here: Map<string, Entity[]>;
  anywhere: Map<string, Entity[]>;
  keys: Map<string, Entity[]>;
}

function indexed(kind: string, drawing: Drawing): OfKind {
  const made: OfKind = { prints: new Map(), here: new Map(), anywhere: new Map(), keys: new Map() };
  const put = (to: Map<string, Entity[]>, key: string, e: Entity): void => {
    const list = to.get(key);
    if (list) list.push(e);
    else to.set(key, [e]);
  };
  const add = (e: Entity): void => {
    if (e.kind !== kind) return;
    const prints = printsOf(e, drawing);
    const { here, anywhere } = prints;
    made.prints.set(e, prints);
    put(made.here, here, e);
    put(made.anywhere, anywhere, e);
    if (e.key !== undefined) put(made.keys, e.key, e);
  };
  drawing.entities.forEach(add);
  for (const b of drawing.blocks.values()) b.entities.forEach(add);
  return made;
}

const indices = new WeakMap<Drawing, Map<string, OfKind>>();

/** Worked out when a kind is first asked for: many references of one drawing are found in one look over it. */
function kindIndex(kind: string, drawing: Drawing): OfKind {
  let kinds = indices.get(drawing);
  if (!kinds) indices.set(drawing, (kinds = new Map()));
  let known = kinds.get(kind);
  if (!known) kinds.set(kind, (known = indexed(kind, drawing)));
  return known;
}

/** The reference to keep of an entity of the drawing. */
export function refOf(e: Entity, drawing: Drawing): EntityRef {
  const known = kindIndex(e.kind, drawing);
  const { here, anywhere } = known.prints.get(e) ?? printsOf(e, drawing);
  const alone = known.anywhere.get(anywhere)?.length === 1;
  return `${e.kind}/${here}${alone ? `.${anywhere}` : ''}/${e.key ?? ''}`;
}

/**
 * The entity that a reference means in a drawing, blocks included, as revisions are compared: the one of its shape in its
 * place (and of its key, where several are), else the one of its key, which was redrawn, else the only one of its shape,
 * which was moved: where it was the only one before, and no key says otherwise. `null` where that would be a guess.
 */
export function resolveRef(ref: EntityRef, drawing: Drawing): Entity | null {
  const match = /^(\w+)\/([0-9a-f]{8})(?:\.([0-9a-f]{8}))?\/(.*)$/s.exec(ref);
  if (!match) return null;
  const [, kind, print, shape, key] = match;
  const { here, anywhere, keys } = kindIndex(kind!, drawing);
  const alone = (list: readonly Entity[]): Entity | null => (list.length === 1 ? list[0]! : null);
  const inPlace = here.get(print!) ?? [];
  if (inPlace.length > 0) return alone(inPlace) ?? (key === '' ? null : alone(inPlace.filter((e) => e.key === key)));
  const says = (k: string | undefined): boolean => k !== undefined && k !== '' && !BY_LINE.test(k);
  const keyed = says(key) ? alone(keys.get(key!) ?? []) : null;
  if (keyed || shape === undefined) return keyed;
  const moved = alone(anywhere.get(shape) ?? []);
  return moved && says(key) && says(moved.key) ? null : moved;
}

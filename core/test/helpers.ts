import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Draft, Drawing, Entity, FontBook, Target, TargetGiven } from '../src/index.js';
import {
  targetFor,
  DRAFTING_DEFAULT,
  SHIPPED_FONTS,
  NO_DECISIONS,
  deliver,
  emptyDrawing,
  newLayer,
  prepare,
  proveDelivery,
  readDrawing,
  shippedBook,
} from '../src/index.js';

export const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
export const textOf = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);

export const demoFile = (name: string): Uint8Array =>
  readFileSync(fileURLToPath(new URL(`../../demo/files/${name}`, import.meta.url)));
export const DEMO = [
  'kestrel-row-front-elevation.dxf',
  'kestrel-row-side-elevation.dxf',
  'kestrel-row-mullion.dxf',
  'kestrel-row-wayfinding-panel.svg',
  'kestrel-row-section.dxf',
];

export const fontFiles = (): Uint8Array[] =>
  SHIPPED_FONTS.map(({ file }) => readFileSync(fileURLToPath(new URL(`../fonts/${file}`, import.meta.url))));

let book: FontBook | null = null;
export const fonts = (): FontBook => (book ??= shippedBook(fontFiles()));

/** An ASCII DXF of the given version around entity tags: `[0, 'LINE', 8, 'A', 10, 0, …]`. */
export function dxf(
  entities: readonly (string | number)[],
  options: {
    units?: number;
    version?: string;
    layers?: readonly (string | number)[];
    blocks?: readonly (string | number)[];
  } = {},
): Uint8Array {
  const { units, version = 'AC1024', layers = [], blocks = [] } = options;
  const tags: (string | number)[] = [0, 'SECTION', 2, 'HEADER', 9, '$ACADVER', 1, version];
  if (units !== undefined) tags.push(9, '$INSUNITS', 70, units);
  tags.push(0, 'ENDSEC', 0, 'SECTION', 2, 'TABLES', 0, 'TABLE', 2, 'LAYER', 70, 1, ...layers, 0, 'ENDTAB', 0, 'ENDSEC');
  tags.push(
    0,
    'SECTION',
    2,
    'BLOCKS',
    ...blocks,
    0,
    'ENDSEC',
    0,
    'SECTION',
    2,
    'ENTITIES',
    ...entities,
    0,
    'ENDSEC',
    0,
    'EOF',
  );
  return bytesOf(tags.join('\n') + '\n');
}

export const svg = (body: string, attributes = 'width="100mm" height="100mm" viewBox="0 0 100 100"'): Uint8Array =>
  bytesOf(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${body}</svg>`);

export const read = (bytes: Uint8Array, name = 'test.dxf'): Drawing => readDrawing(bytes, name).drawing;

export function only<K extends Entity['kind']>(d: Drawing, kind: K): Extract<Entity, { kind: K }> {
  const found = d.entities.filter((e) => e.kind === kind);
  if (found.length !== 1)
    throw new Error(`${found.length} entities of kind ${kind}: ${d.entities.map((e) => e.kind).join()}`);
  return found[0] as Extract<Entity, { kind: K }>;
}

/** A drafting drawing in millimetres of the given entities (their ids, layer and look filled in). */
export function drawingOf(
  entities: (Omit<Entity, 'id' | 'layer' | 'look'> & { kind: string; layer?: string })[],
): Draft<Drawing> {
  const d = emptyDrawing('dxf', '2010');
  d.unit = { unit: 'mm', factor: 1 };
  d.entities = entities.map((e, i) => ({ layer: 'A', look: DRAFTING_DEFAULT, ...e, id: i + 1 }) as Entity);
  d.layers = [...new Set(d.entities.map((e) => e.layer))].map((n) => newLayer(n));
  d.nextId = entities.length + 1;
  return d;
}

/** Takes a drawing as it is, writes it, reads it back and proves it. */
export function hop(source: Drawing, target: TargetGiven & Pick<Target, 'format'>) {
  const prepared = prepare(
    source,
    { ...NO_DECISIONS, layers: { mode: 'all', names: [] }, ...(source.unit ? {} : { unit: 'mm' as const }) },
    [],
  );
  const made = deliver(prepared.drawing, targetFor(target.format, target), 'test.x', fonts());
  const proof = proveDelivery(source, prepared, made, made.bytes, fonts());
  return { made, proof, back: readDrawing(made.bytes, made.name).drawing };
}

/** What speaks against a proof, for a readable failure. */
export const risks = (proof: {
  items: { state: string; title: string; expected: string; found: string; explanation: string }[];
}): string[] =>
  proof.items.filter((i) => i.state === 'atRisk').map((i) => `${i.title}: ${i.expected} / ${i.found} ${i.explanation}`);

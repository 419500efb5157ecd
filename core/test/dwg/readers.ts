import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

/** What an independent reader found in a DWG. */
export interface Seen {
  /** 0, or the bits of what it had to complain about. */
  error: number;
  kinds: Record<string, number>;
  layers: string[];
}

const require = createRequire(import.meta.url);

interface Library {
  dwg_read_data(bytes: Uint8Array, type: number): number;
  dwg_write_dxf(bytes: Uint8Array): Uint8Array | null;
  dwg_free(data: number): void;
  convert(data: number): {
    header: Record<string, unknown>;
    entities: { type: string; [field: string]: unknown }[];
    tables: Record<string, { entries: { name: string }[] } | undefined>;
  };
  dwg_dynapi_header_value?(data: number, name: string): unknown;
}

let library: Promise<Library> | null = null;

/** The first independent reader: it also turns a DWG into a DXF, which our own reader of DXF then reads. */
export function firstReader(): Promise<Library> {
  library ??= (async () => {
    const { LibreDwg } = (await import('@mlightcad/libredwg-web')) as {
      LibreDwg: { create(folder: string): Promise<Library> };
    };
    const main = require.resolve('@mlightcad/libredwg-web');
    return LibreDwg.create(join(dirname(dirname(main)), 'wasm/'));
  })();
  return library;
}

const count = (list: readonly string[]): Record<string, number> => {
  const out: Record<string, number> = {};
  for (const k of list) out[k] = (out[k] ?? 0) + 1;
  return out;
};

/** What the first reader finds. Its complaints go to the console; they are caught there. */
export async function seenByFirst(bytes: Uint8Array): Promise<Seen & { header: Record<string, unknown> }> {
  const lib = await firstReader();
  let error = 0;
  const { warn } = console;
  console.warn = (text: string, code?: number) => (error = /error code/.test(text) ? Number(code) : error);
  try {
    const data = lib.dwg_read_data(bytes, 0);
    const db = lib.convert(data);
    const seen = {
      error,
      kinds: count(db.entities.map((e) => e.type)),
      layers: (db.tables['LAYER']?.entries ?? []).map((l) => l.name).sort(),
      header: db.header,
    };
    lib.dwg_free(data);
    return seen;
  } finally {
    console.warn = warn;
  }
}

/** The DXF that the first reader makes of a DWG. */
export async function dxfByFirst(bytes: Uint8Array): Promise<Uint8Array> {
  const { log } = console;
  const said: unknown[] = [];
  console.log = (...words: unknown[]) => said.push(words);
  try {
    const dxf = (await firstReader()).dwg_write_dxf(bytes);
    if (!dxf) throw new Error(`the independent reader made no DXF: ${JSON.stringify(said)}`);
    return dxf;
  } finally {
    console.log = log;
  }
}

interface Vector<T> {
  size(): number;
  get(i: number): T;
}
interface Second {
  DRW_Database: new () => {
    mBlock: { entities: Vector<{ eType: { value?: number } }> } | null;
    layers: Vector<{ name: string }>;
  };
  DRW_FileHandler: new () => { database: unknown };
  DRW_DwgR: new (buffer: ArrayBuffer) => { read(handler: unknown, extrusion: boolean): boolean };
  DRW_ETYPE: Record<string, { value: number }>;
}

/** Its package names no file to begin with. */
const SECOND = new URL('../../../node_modules/@mlightcad/libdxfrw-web/dist/libdxfrw.js', import.meta.url).href;

let second: Promise<Second> | null = null;
function secondReader(): Promise<Second> {
  second ??= (async () => {
    const made = (await import(/* @vite-ignore */ SECOND)) as { default: (options: object) => Promise<Second> };
    // It talks of what it reads.
    return made.default({ print: () => undefined, printErr: () => undefined });
  })();
  return second;
}

/** What the second, wholly other reader finds: entities of model space by kind. */
export async function seenBySecond(bytes: Uint8Array): Promise<Seen> {
  const m = await secondReader();
  const names = new Map(
    Object.entries(m.DRW_ETYPE ?? {}).flatMap(([name, v]) => (typeof v?.value === 'number' ? [[v.value, name]] : [])),
  );
  const database = new m.DRW_Database();
  const handler = new m.DRW_FileHandler();
  handler.database = database;
  const whole = bytes.slice();
  new m.DRW_DwgR(whole.buffer).read(handler, false);
  const entities = database.mBlock?.entities;
  const kinds: string[] = [];
  for (let i = 0; i < (entities?.size() ?? 0); i++) kinds.push(String(names.get(entities!.get(i).eType.value!)));
  const layers: string[] = [];
  for (let i = 0; i < database.layers.size(); i++) layers.push(database.layers.get(i).name);
  return { error: 0, kinds: count(kinds), layers: layers.sort() };
}

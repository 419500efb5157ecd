import * as Comlink from 'comlink';
import type {
  Drawing,
  EncodingSample,
  FontBook as Fonts,
  GivenPicture,
  GivenReference,
  LedgerRow,
  OutOfSight,
  Renderer,
  Scene,
  SeenFile,
  Snapper,
  Stage,
} from '@scalaria/core';
import { paths } from '../api/paths';
import RENDERER from '@resvg/resvg-wasm/index_bg.wasm?url';
import {
  Box2,
  ItemIndex,
  Pipeline,
  SHIPPED_FONTS,
  offerCharacterMaps,
  openRenderer,
  seenInSource,
  shippedBook,
  traitsOf,
} from '@scalaria/core';

const FONT_FILES = import.meta.glob<string>('../../../core/fonts/*.woff2', {
  query: '?url',
  import: 'default',
  eager: true,
});

/** What one worker holds: one drawing, and what was made of it last. */
export const held: {
  /** The fonts that ship, and those with what the job gives beside them. */
  shipped: Fonts | null;
  fonts: Fonts | null;
  /** Pictures of the job that the drawing names. */
  pictures: GivenPicture[];
  /** Drawings of the job that it refers to, once a step asks for them. */
  references: GivenReference[];
  source: Drawing | null;
  /** The file as it came, and whether what was read of it looks like it, once that was asked. */
  bytes: Uint8Array | null;
  seen: Promise<SeenFile | null> | null;
  reading: LedgerRow[];
  prepared: Drawing | null;
  /** The file that was read back last, in the unit of the prepared drawing, and what was in sight before it. */
  delivered: Drawing | null;
  /** What the file was handed over as, where that is not the prepared drawing as it is. */
  against: Drawing | null;
  before: { items: ItemIndex } | null;
  /** How the drawing is prepared, and for which source, fonts, pictures and references that was. */
  pipeline: { of: readonly unknown[]; made: Pipeline } | null;
  /** The prepared drawing as it was last in sight, to come back to. */
  ready: { drawing: Drawing; bounds: Box2; items: ItemIndex; snapper?: Snapper; sheet?: string } | null;
  /** The drawing in sight, with what finds things in it. */
  shown: { drawing: Drawing; bounds: Box2; items: ItemIndex; snapper?: Snapper; sheet?: string } | null;
  /** Its texts beyond ASCII, as each encoding has them. */
  samples: EncodingSample[];
  /** Where the page says which runs are to stop: the number of the last of them. */
  stops: Int32Array | null;
  /** What the step did that was tried last. */
  tried: readonly Stage[];
  /** Counts the runs of checks: an earlier one sees that it is no longer wanted. */
  checkRun: number;
  outOfSight: OutOfSight;
} = {
  shipped: null,
  fonts: null,
  pictures: [],
  references: [],
  source: null,
  bytes: null,
  seen: null,
  reading: [],
  prepared: null,
  delivered: null,
  against: null,
  before: null,
  pipeline: null,
  ready: null,
  shown: null,
  samples: [],
  stops: null,
  tried: [],
  checkRun: 0,
  outOfSight: { layers: new Set(), ids: new Set() },
};

const fetched = async (address: string): Promise<Uint8Array> =>
  new Uint8Array(await (await fetch(address)).arrayBuffer());

/** The bytes of a font that ships, by the name of its file. */
export const shippedFile = (file: string): Promise<Uint8Array> => fetched(FONT_FILES[`../../../core/fonts/${file}`]!);

const shippedFiles = (): Promise<Uint8Array[]> => Promise.all(SHIPPED_FONTS.map(({ file }) => shippedFile(file)));

/** The fonts at hand; those that ship are fetched once. */
export async function loadFonts(): Promise<Fonts> {
  if (held.fonts) return held.fonts;
  if (held.shipped) return held.shipped;
  return (held.shipped = shippedBook(await shippedFiles()));
}

// Maps of characters that fonts of a PDF only name.
offerCharacterMaps(async (name) => {
  const answer = await fetch(paths.characterMap(name));
  if (!answer.ok) throw new Error(`there is no map of characters called ${name}`);
  return new Uint8Array(await answer.arrayBuffer());
});

let renderer: Promise<Renderer> | null = null;

/** The renderer that is not ours; fetched once, or again where it did not start. */
export function loadRenderer(): Promise<Renderer> {
  renderer ??= Promise.all([fetched(RENDERER), shippedFiles()])
    .then(([machine, files]) => openRenderer({ machine, fonts: () => files }))
    .catch((e: unknown) => {
      renderer = null;
      throw e;
    });
  return renderer;
}

/** Whether what was read of an artwork looks like its file, drawn by a renderer that is not ours; worked out once. */
export function seenFile(): Promise<SeenFile | null> {
  const { source, bytes } = held;
  if (!source || !bytes || !traitsOf(source.format).hasRenderer) return Promise.resolve(null);
  held.seen ??= Promise.all([loadRenderer(), loadFonts()])
    .then(([renderer, fonts]) => seenInSource(bytes, source, renderer, fonts))
    .catch((e: unknown) => ({ same: null, why: `the renderer did not start (${String(e)})`, places: [] }));
  return held.seen;
}

/** The pipeline of the drawing that is open: what it worked out last counts until source, fonts, pictures or references are others. */
export async function pipeline(): Promise<Pipeline> {
  const fonts = await loadFonts();
  const { source, pictures, references } = held;
  if (!source) throw new Error('no drawing is open');
  const of = [source, fonts, pictures, references];
  if (!held.pipeline?.of.every((x, i) => x === of[i]))
    held.pipeline = { of, made: new Pipeline(source, { fonts, pictures, references }) };
  return held.pipeline!.made;
}

/** Whether the page has asked a run to stop; asked while it runs, since memory is shared. Run 0 is one that nobody stops. */
export const stopSignal = (run: number): { readonly aborted: boolean } => ({
  get aborted() {
    return run > 0 && held.stops !== null && Atomics.load(held.stops, 0) >= run;
  },
});

/** A scene on its way to the page, which gets its arrays without a copy. */
export function handOver(scene: Scene): Scene {
  const buffers = scene.layers.flatMap((l) => [
    l.lines.buffer,
    l.lineColours.buffer,
    l.triangles.buffer,
    l.triangleColours.buffer,
    l.lineOwners.buffer,
    l.triangleOwners.buffer,
    l.lineWidths.buffer,
    l.lineEnds.buffer,
  ]);
  for (const p of scene.pictures) buffers.push(p.corners.buffer, p.inPicture.buffer);
  // The page asks here for what it wants to know of things; it needs no copy of them.
  const bare = {
    ...scene,
    items: { entities: [], boxes: new Float64Array(0) },
  };
  return Comlink.transfer(bare, [...buffers] as ArrayBuffer[]);
}

/** Makes a drawing the one that is looked at. */
export function show(drawing: Drawing, scene: Scene, sheet?: string): void {
  const items = new ItemIndex(drawing, scene.items, sheet);
  const bounds = new Box2();
  if (scene.bounds) bounds.addBox(Object.assign(new Box2(), scene.bounds));
  held.shown = {
    drawing,
    bounds,
    items,
    ...(sheet !== undefined && { sheet }),
  };
}

/** Makes a drawing that was cut in several scenes the one that is looked at. */
export function showAll(drawing: Drawing, scenes: readonly Scene[]): void {
  const boxes = new Float64Array(scenes.reduce((n, s) => n + s.items.boxes.length, 0));
  const bounds = new Box2();
  let at = 0;
  for (const s of scenes) {
    boxes.set(s.items.boxes, at);
    at += s.items.boxes.length;
    if (s.bounds) bounds.addBox(Object.assign(new Box2(), s.bounds));
  }
  const items = { entities: scenes.flatMap((s) => s.items.entities), boxes };
  show(drawing, { ...scenes[0]!, items, bounds: bounds.toJSON() });
}

import * as Comlink from 'comlink';
import type {
  Drawing,
  EncodingSample,
  FontBook as Fonts,
  GivenPicture,
  LedgerRow,
  OutOfSight,
  Scene,
  Snapper,
} from '@scalaria/core';
import { Box2, ItemIndex, Pipeline, SHIPPED_FONTS, shippedBook } from '@scalaria/core';

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
  source: Drawing | null;
  reading: LedgerRow[];
  prepared: Drawing | null;
  /** How the drawing is prepared, and for which source, fonts and pictures that was. */
  pipeline: { of: readonly unknown[]; made: Pipeline } | null;
  /** The drawing in sight, with what finds things in it. */
  shown: { drawing: Drawing; bounds: Box2; items: ItemIndex; snapper?: Snapper; sheet?: string } | null;
  /** Its texts beyond ASCII, as each encoding has them. */
  samples: EncodingSample[];
  /** Counts the runs of checks: an earlier one sees that it is no longer wanted. */
  checkRun: number;
  outOfSight: OutOfSight;
} = {
  shipped: null,
  fonts: null,
  pictures: [],
  source: null,
  reading: [],
  prepared: null,
  pipeline: null,
  shown: null,
  samples: [],
  checkRun: 0,
  outOfSight: { layers: new Set(), ids: new Set() },
};

/** The fonts at hand; those that ship are fetched once. */
export async function loadFonts(): Promise<Fonts> {
  if (held.fonts) return held.fonts;
  if (held.shipped) return held.shipped;
  const loaded = await Promise.all(
    SHIPPED_FONTS.map(async ({ file }) => {
      const answer = await fetch(FONT_FILES[`../../../core/fonts/${file}`]!);
      return new Uint8Array(await answer.arrayBuffer());
    }),
  );
  return (held.shipped = shippedBook(loaded));
}

/** The pipeline of the drawing that is open: what it worked out last counts until source, fonts or pictures are others. */
export async function pipeline(): Promise<Pipeline> {
  const fonts = await loadFonts();
  const { source, pictures } = held;
  if (!source) throw new Error('no drawing is open');
  const of = [source, fonts, pictures];
  if (!held.pipeline?.of.every((x, i) => x === of[i]))
    held.pipeline = { of, made: new Pipeline(source, { fonts, pictures }) };
  return held.pipeline!.made;
}

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

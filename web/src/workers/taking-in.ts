import type {
  EncodingSample,
  FontUse,
  IntakeDecisions,
  LaidFlat,
  NamedFile,
  PlannedStep,
  ReadAs,
  ScaleSuggestion,
  UnitSibling,
  UnitSuggestion,
} from '@scalaria/core';
import {
  NO_DECISIONS,
  eachPage,
  encodingSamples,
  filesNamedBy,
  fontUses,
  gatheredName,
  layFlat,
  loadFont,
  mmPerUnit,
  prepare,
  previewSvg,
  readAs,
  readSource,
  scaleEvidence,
  statedEncoding,
  takeIn,
  traitsOf,
  dataAddress,
  unitEvidence,
  upright,
} from '@scalaria/core';
import { held, loadFonts } from './held';

export type PlaneReport = Pick<LaidFlat, 'changed' | 'farthest' | 'shorter' | 'lost'>;

/** A space of the drawing: model space where `sheet` is absent. */
export interface ContentPicture {
  sheet: string | undefined;
  entities: number;
  svg: string;
}

/** A page of a PDF: its size in mm, how much is on it, and a small picture. */
export interface PagePicture {
  number: number;
  of: number;
  size: [number, number];
  objects: number;
  svg: string;
}

/** What station one asks: the file, its fonts and pictures, what is known of it. */
export const takingIn = {
  /** Reads the bytes of the drawing. Progress from 0 to 1. */
  async open(bytes: ArrayBuffer, name: string, as: ReadAs, onProgress: (done: number) => void): Promise<void> {
    await loadFonts();
    let said = 0;
    const result = await readSource(new Uint8Array(bytes), name, {
      ...as,
      onProgress: (done) => {
        if (done - said < 0.02) return;
        said = done;
        onProgress(done);
      },
    });
    held.source = result.drawing;
    held.bytes = traitsOf(held.source.format).hasRenderer ? new Uint8Array(bytes) : null;
    held.seen = null;
    held.samples = encodingSamples(new Uint8Array(bytes), held.source, as.encoding ?? statedEncoding(held.source));
    held.reading = result.ledger;
    held.prepared = null;
  },

  /** Texts whose letters depend on the encoding, the likelier encodings first; of a DWG as it is read now. */
  encodings(): { stated: string; samples: EncodingSample[] } {
    const said = held.source?.header.get('$DWGCODEPAGE')?.[0]?.[1] ?? '';
    return { stated: said === '' ? '' : (statedEncoding(held.source!) ?? said), samples: held.samples };
  },

  /** The job's own fonts and its chart from asked-for name to family. */
  async setFonts(given: { family: string; bytes: Uint8Array }[], chart: Record<string, string>): Promise<void> {
    await loadFonts();
    held.fonts = held.shipped!.with(
      chart,
      given.map((f) => loadFont(f.bytes, f.family)),
    );
  },

  /** Pictures of the job that the drawing names. */
  setPictures(given: { name: string; media: string; bytes: Uint8Array }[]): void {
    held.pictures = given.map((p) => ({ name: p.name, data: dataAddress(p.media, p.bytes) }));
  },

  /** Drawings of the job that the drawing refers to; gives the names of those that they refer to in turn. */
  async setReferences(given: { name: string; fileName: string; bytes: ArrayBuffer }[]): Promise<string[]> {
    const read = await Promise.all(
      given.map(async (f) => ({
        name: f.name,
        drawing: (await readSource(new Uint8Array(f.bytes), f.fileName)).drawing,
      })),
    );
    held.references = [...held.references.filter((r) => !read.some((n) => n.name === r.name)), ...read];
    return read.flatMap((r) => filesNamedBy(r.drawing).flatMap((f) => (f.kind === 'drawing' ? f.name : [])));
  },

  /** Drawings of the job that a step gathers, each prepared by its own decisions and steps. */
  async setGathered(
    given: { id: string; fileName: string; bytes: ArrayBuffer; intake: IntakeDecisions; steps: PlannedStep[] }[],
  ): Promise<void> {
    const fonts = await loadFonts();
    const read = await Promise.all(
      given.map(async ({ id, fileName, bytes, intake, steps }) => {
        const { drawing } = await readSource(new Uint8Array(bytes), fileName, readAs(intake));
        return { name: gatheredName(id), drawing: prepare(drawing, intake, steps, { fonts }).drawing };
      }),
    );
    held.references = [...held.references.filter((r) => !read.some((n) => n.name === r.name)), ...read];
  },

  /** The fonts that the drawing asks for, what stands in for them, and the families to choose from. */
  async fontUses(): Promise<{ uses: FontUse[]; families: string[] }> {
    const book = await loadFonts();
    return { uses: held.source ? fontUses(upright(held.source), book) : [], families: book.families };
  },

  /** The evidence for each unit, the likeliest first; nothing for a drawing that states a size of its own. */
  unitEvidence(siblings: readonly UnitSibling[] = []): UnitSuggestion[] {
    return held.source && traitsOf(held.source.format).unitless ? unitEvidence(held.source, siblings) : [];
  },

  /** The layers that a rule makes, with how many entities lie on each. */
  layersBy(decisions: IntakeDecisions): { name: string; count: number }[] {
    if (!held.source) return [];
    const { drawing } = takeIn(held.source, decisions);
    const counts = new Map<string, number>(drawing.layers.map((l) => [l.name, 0]));
    for (const e of drawing.entities) counts.set(e.layer, (counts.get(e.layer) ?? 0) + 1);
    return [...counts].map(([name, count]) => ({ name, count }));
  },

  /** The pictures and reference drawings that the file names and does not hold. */
  namedFiles(): NamedFile[] {
    return held.source ? filesNamedBy(held.source) : [];
  },

  /** What is evidence for the scale that a page shows it at. */
  scaleEvidence(): ScaleSuggestion[] {
    return held.source?.pageOf ? scaleEvidence(held.source) : [];
  },

  /** Small pictures of the pages of the file, one after the other, for as long as `onPage` says that it wants more. */
  async pages(bytes: ArrayBuffer, from: number, onPage: (page: PagePicture) => Promise<boolean>): Promise<void> {
    await eachPage(new Uint8Array(bytes), from, (drawing) => {
      const shown = takeIn(drawing, NO_DECISIONS).drawing;
      const k = mmPerUnit(drawing.unit) ?? 1;
      const { width = 0, height = 0 } = drawing.page ?? {};
      return onPage({
        number: drawing.pageOf!.number,
        of: drawing.pageOf!.of,
        size: [width * k, height * k],
        objects: drawing.entities.length,
        svg: previewSvg(shown, 220, 140),
      });
    });
  },

  /** What laying the drawing flat would do to it. */
  planeReport(): PlaneReport | null {
    if (!held.source) return null;
    const { changed, farthest, shorter, lost } = layFlat(upright(held.source));
    return { changed, farthest, shorter, lost };
  },

  /** Small pictures of model space and of each sheet, with how much lies there. */
  contents(): ContentPicture[] {
    if (!held.source) return [];
    const drawing = upright(held.source);
    const count = (sheet?: string): number => drawing.entities.filter((e) => e.sheet === sheet).length;
    const spaces = [undefined, ...drawing.sheets.map((s) => s.name)];
    return spaces.map((sheet) => ({ sheet, entities: count(sheet), svg: previewSvg(drawing, 220, 140, sheet) }));
  },
};

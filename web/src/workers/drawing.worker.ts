import * as Comlink from 'comlink';
import type {
  Alike,
  ArtDecisions,
  CarryOverSummary,
  Comparison,
  CurveFacts,
  Description,
  Drawing,
  EncodingSample,
  Finding,
  FontBook as Fonts,
  FontUse,
  GivenPicture,
  IntakeDecisions,
  Inventory,
  LaidFlat,
  LedgerRow,
  NamedFile,
  OutOfSight,
  Parameters,
  PlannedStep,
  Scene,
  Snap,
  UnitSuggestion,
} from '@scalaria/core';
import {
  ART_DEFAULT,
  Box2,
  CHECKS,
  ItemIndex,
  Ledger,
  MANY,
  SHIPPED_FONTS,
  Snapper,
  buildScene,
  chooseArt,
  compareDrawings,
  conversion,
  curveAt,
  describe,
  encodingSamples,
  filesNamedBy,
  findingsReport,
  fontUses,
  inventoryOf,
  isDrafting,
  layFlat,
  loadFont,
  prepare,
  previewSvg,
  readDrawing,
  runCheck,
  runChecks,
  scaling,
  settingsForDrawing,
  settleUnit,
  shippedBook,
  snapPointsOf,
  statedEncoding,
  summarise,
  takeIn,
  dataAddress,
  transformDrawing,
  unitEvidence,
  upright,
  withPictures,
} from '@scalaria/core';

const FONT_FILES = import.meta.glob<string>('../../../core/fonts/*.woff2', { query: '?url', import: 'default', eager: true }); // prettier-ignore

/** Reads, prepares, checks and cuts a drawing away from the page. One worker holds one drawing. */

/** The fonts that ship, and those with what the job gives beside them. */
let shipped: Fonts | null = null;
let fonts: Fonts | null = null;
/** Pictures of the job that the drawing names. */
let pictures: GivenPicture[] = [];
let source: Drawing | null = null;
let reading: LedgerRow[] = [];
let prepared: Drawing | null = null;
/** The drawing in sight, with what finds things in it. */
let shown: { drawing: Drawing; bounds: Box2; items: ItemIndex; snapper?: Snapper; sheet?: string } | null = null;
/** Its texts beyond ASCII, as each encoding has them. */
let samples: EncodingSample[] = [];
/** Counts the runs of checks: an earlier one sees that it is no longer wanted. */
let checkRun = 0;
let outOfSight: OutOfSight = { layers: new Set(), ids: new Set() };

/** More entities than these are not cut more finely for a closer look. */
const MOST_IN_DETAIL = 40_000;

async function loadFonts(): Promise<Fonts> {
  if (fonts) return fonts;
  if (shipped) return shipped;
  const loaded = await Promise.all(
    SHIPPED_FONTS.map(async ({ file }) => {
      const answer = await fetch(FONT_FILES[`../../../core/fonts/${file}`]!);
      return new Uint8Array(await answer.arrayBuffer());
    }),
  );
  return (shipped = shippedBook(loaded));
}

function handOver(scene: Scene): Scene {
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
function show(drawing: Drawing, scene: Scene, sheet?: string): void {
  const items = new ItemIndex(drawing, scene.items, sheet);
  const bounds = new Box2();
  if (scene.bounds) bounds.addBox(Object.assign(new Box2(), scene.bounds));
  shown = {
    drawing,
    bounds,
    items,
    ...(sheet !== undefined && { sheet }),
  };
}

export type PlaneReport = Pick<LaidFlat, 'changed' | 'farthest' | 'shorter' | 'lost'>;

/** A space of the drawing: model space where `sheet` is absent. */
export interface ContentPicture {
  sheet: string | undefined;
  entities: number;
  svg: string;
}

export interface CompareView {
  comparison: Comparison;
  /** What each of the two files states. */
  unit: { before: string | null; after: string | null };
  /** What is in both; what is otherwise, as it is now and as it was. */
  same: Scene;
  now: Scene;
  old: Scene;
}

export interface PreparedView {
  scene: Scene;
  ledger: LedgerRow[];
  strip: CarryOverSummary[];
  unit: string | null;
}

const api = {
  /** Reads the bytes of the drawing. Progress from 0 to 1. */
  async open(
    bytes: ArrayBuffer,
    name: string,
    encoding: string | null,
    onProgress: (done: number) => void,
  ): Promise<void> {
    await loadFonts();
    let said = 0;
    const result = readDrawing(new Uint8Array(bytes), name, {
      encoding,
      onProgress: (done) => {
        if (done - said < 0.02) return;
        said = done;
        onProgress(done);
      },
    });
    source = result.drawing;
    samples = encodingSamples(new Uint8Array(bytes), source, encoding ?? statedEncoding(source));
    reading = result.ledger;
    prepared = null;
  },

  /** Texts whose letters depend on the encoding, the likelier encodings first; of a DWG as it is read now. */
  encodings(): { stated: string; samples: EncodingSample[] } {
    const stated = source?.header.get('$DWGCODEPAGE')?.[0]?.[1] ?? '';
    return { stated, samples };
  },

  /** The job's own fonts and its chart from asked-for name to family. */
  async setFonts(given: { family: string; bytes: Uint8Array }[], chart: Record<string, string>): Promise<void> {
    await loadFonts();
    fonts = shipped!.with(
      chart,
      given.map((f) => loadFont(f.bytes, f.family)),
    );
  },

  /** Pictures of the job that the drawing names. */
  setPictures(given: { name: string; media: string; bytes: Uint8Array }[]): void {
    pictures = given.map((p) => ({ name: p.name, data: dataAddress(p.media, p.bytes) }));
  },

  /** The fonts that the drawing asks for, what stands in for them, and the families to choose from. */
  async fontUses(): Promise<{ uses: FontUse[]; families: string[] }> {
    const book = await loadFonts();
    return { uses: source ? fontUses(upright(source), book) : [], families: book.families };
  },

  /** What speaks for which unit, the likeliest first; nothing for a drawing that states a size of its own. */
  unitEvidence(): UnitSuggestion[] {
    return source && isDrafting(source) ? unitEvidence(source) : [];
  },

  /** The layers that a rule makes, with how many entities lie on each. */
  layersBy(decisions: IntakeDecisions): { name: string; count: number }[] {
    if (!source) return [];
    const { drawing } = takeIn(source, decisions);
    const counts = new Map<string, number>(drawing.layers.map((l) => [l.name, 0]));
    for (const e of drawing.entities) counts.set(e.layer, (counts.get(e.layer) ?? 0) + 1);
    return [...counts].map(([name, count]) => ({ name, count }));
  },

  /** The drawing as it came, y upwards, in its own coordinates: model space, or one of its sheets. */
  async sourceScene(art?: ArtDecisions, sheet?: string, onDraft?: (scene: Scene) => void): Promise<Scene> {
    if (!source) throw new Error('no drawing is open');
    const held = withPictures(source, pictures, new Ledger('intake'));
    const drawing = upright(chooseArt(held, art ?? ART_DEFAULT, new Ledger('intake')));
    const fonts = await loadFonts();
    if (onDraft && sheet === undefined && drawing.entities.length > MANY) {
      onDraft(handOver(buildScene(drawing, fonts, { draft: true })));
      // The draft goes on its way before the rest is made.
      await new Promise((resolve) => setTimeout(resolve, 0));
    }
    const scene = buildScene(drawing, fonts, sheet === undefined ? {} : { sheet });
    show(drawing, scene, sheet);
    return handOver(scene);
  },

  /** The drawing after decisions and steps. */
  async preparedScene(decisions: IntakeDecisions, steps: PlannedStep[]): Promise<PreparedView> {
    if (!source) throw new Error('no drawing is open');
    const made = prepare(source, decisions, steps, { fonts: await loadFonts(), pictures });
    prepared = made.drawing;
    const scene = buildScene(made.drawing, await loadFonts());
    show(made.drawing, scene);
    const ledger = [...reading, ...made.ledger];
    return {
      scene: handOver(scene),
      ledger,
      strip: summarise(source, decisions, ledger),
      unit: made.drawing.unit?.unit ?? null,
    };
  },

  /** Only what the strip says, without cutting the drawing. */
  async strip(
    decisions: IntakeDecisions,
    steps: PlannedStep[],
  ): Promise<{ strip: CarryOverSummary[]; ledger: LedgerRow[] }> {
    if (!source) throw new Error('no drawing is open');
    const ledger = [...reading, ...prepare(source, decisions, steps, { fonts: await loadFonts(), pictures }).ledger];
    return { strip: summarise(source, decisions, ledger), ledger };
  },

  /**
   * Runs the checks one by one and tells of each; between two of them other questions are answered. A new run ends the
   * one before. `false` when it was ended.
   */
  async checks(
    settings: Record<string, Parameters>,
    onChecked: (id: string, found: Finding[]) => void,
  ): Promise<boolean> {
    const run = ++checkRun;
    const drawing = prepared;
    if (!drawing) return false;
    const own = settingsForDrawing(settings, drawing.unit);
    const fonts = await loadFonts();
    for (const check of CHECKS) {
      await new Promise((resolve) => setTimeout(resolve, 0));
      if (run !== checkRun || drawing !== prepared) return false;
      onChecked(check.id, runCheck(check, drawing, own[check.id], { fonts }));
    }
    return true;
  },

  /** Ends the checks that run. */
  stopChecks(): void {
    checkRun++;
  },

  /** Colours, layers and kinds of the prepared drawing. */
  inventory(): Inventory | null {
    return prepared ? inventoryOf(prepared) : null;
  },

  /** The findings as a page to send back to whoever made the drawing. */
  async report(name: string, format: string, settings: Record<string, Parameters>): Promise<string | null> {
    if (!prepared) return null;
    const checks = new Map(CHECKS.map((c) => [c.id, c]));
    const findings = runChecks(prepared, settingsForDrawing(settings, prepared.unit), { fonts: await loadFonts() });
    return findingsReport(prepared, { name, format, findings, checks, inventory: inventoryOf(prepared) });
  },

  /** The pictures and reference drawings that the file names and does not hold. */
  namedFiles(): NamedFile[] {
    return source ? filesNamedBy(source) : [];
  },

  /** What laying the drawing flat would do to it. */
  planeReport(): PlaneReport | null {
    if (!source) return null;
    const { changed, farthest, shorter, lost } = layFlat(upright(source));
    return { changed, farthest, shorter, lost };
  },

  /** Small pictures of model space and of each sheet, with how much lies there. */
  contents(): ContentPicture[] {
    if (!source) return [];
    const drawing = upright(source);
    const count = (sheet?: string): number => drawing.entities.filter((e) => e.sheet === sheet).length;
    const spaces = [undefined, ...drawing.sheets.map((s) => s.name)];
    return spaces.map((sheet) => ({ sheet, entities: count(sheet), svg: previewSvg(drawing, 220, 140, sheet) }));
  },

  /** What is otherwise in the drawing than in an earlier file of it, as the decisions have both. */
  async compareWith(bytes: ArrayBuffer, name: string, decisions: IntakeDecisions): Promise<CompareView> {
    if (!source) throw new Error('no drawing is open');
    const book = await loadFonts();
    const art = decisions.art ?? ART_DEFAULT;
    const plain = (d: Drawing): Drawing => upright(chooseArt(d, art, new Ledger('intake')));
    const read = readDrawing(new Uint8Array(bytes), name, { encoding: decisions.encoding ?? null }).drawing;
    const [was, is] = [settleUnit(read, decisions), settleUnit(source, decisions)];
    const k = was && is ? (was.factor * conversion(was.unit, is.unit)) / is.factor : 1;
    const before = k === 1 ? plain(read) : transformDrawing(plain(read), scaling(k, k, k));
    const after = plain(source);
    const comparison = compareDrawings(before, after);
    const ids = (side: 'before' | 'after') => new Set(comparison.differences.flatMap((d) => d[side]));
    const part = (d: Drawing, of: ReadonlySet<number>, inside: boolean): Scene =>
      handOver(buildScene({ ...d, entities: d.entities.filter((e) => e.sheet === undefined && of.has(e.id) === inside) }, book)); // prettier-ignore
    const [old, now] = [ids('before'), ids('after')];
    return {
      comparison,
      unit: { before: read.unit?.unit ?? null, after: source.unit?.unit ?? null },
      same: part(after, now, false),
      now: part(after, now, true),
      old: part(before, old, true),
    };
  },

  /** A delivered file, read back and brought into the unit of the prepared drawing. */
  async deliveredScene(bytes: ArrayBuffer, name: string): Promise<Scene> {
    let d = upright(readDrawing(new Uint8Array(bytes), name).drawing);
    const unit = prepared?.unit;
    if (unit && d.unit && unit.unit !== 'px' && d.unit.unit !== 'px') {
      const k = (d.unit.factor * conversion(d.unit.unit, unit.unit)) / unit.factor;
      if (k !== 1) d = transformDrawing(d, scaling(k, k, k));
    }
    return handOver(buildScene(d, await loadFonts()));
  },

  /** What is out of sight: it is neither found nor snapped to. */
  hide(layers: string[], ids: number[]): void {
    outOfSight = { layers: new Set(layers), ids: new Set(ids) };
  },

  /** The best point to snap to within `reach`, or null; `from` is the point before it. */
  snap(x: number, y: number, reach: number, from?: { x: number; y: number }): Snap | null {
    if (!shown) return null;
    // Made when it is first asked for: many a drawing is only looked at.
    shown.snapper ??= new Snapper(snapPointsOf(shown.drawing, shown.sheet), shown.items);
    return shown.snapper.at(x, y, reach, outOfSight, from);
  },

  /** The id and the kind of the entity under a point. */
  itemAt(x: number, y: number, reach: number): number | null {
    return shown?.items.at(x, y, reach, outOfSight)?.id ?? null;
  },

  /** The ids of entities in a frame: wholly, or touched by it too. */
  itemsWithin(x0: number, y0: number, x1: number, y1: number, touching: boolean): number[] {
    return shown?.items.within(Box2.of(x0, y0, x1, y1), touching, outOfSight) ?? [];
  },

  /** The ids of all that is like one of these. */
  alike(ids: number[], what: Alike): number[] {
    return shown?.items.alike(new Set(ids), what, outOfSight) ?? [];
  },

  /** The ids of all that is in sight. */
  allInSight(): number[] {
    if (!shown) return [];
    const all = shown.items.meeting(shown.bounds);
    return all.filter((e) => !outOfSight.ids.has(e.id) && !outOfSight.layers.has(e.layer)).map((e) => e.id);
  },

  describe(ids: number[]): Description | null {
    return shown ? describe(shown.drawing, shown.items, new Set(ids)) : null;
  },

  /** The box about entities as they are drawn. */
  boxOf(ids: number[]): Scene['bounds'] {
    const box = new Box2();
    for (const e of shown?.items.byId(new Set(ids)) ?? []) box.addBox(shown!.items.boxOf(e) ?? new Box2());
    return box.toJSON();
  },

  /** What can be measured of the curve under a point. */
  curveAt(x: number, y: number, reach: number): CurveFacts | null {
    return shown ? curveAt(shown.items, x, y, reach, outOfSight) : null;
  },

  /** What lies in a window, cut more finely; `null` where that is too much. */
  async detail(x0: number, y0: number, x1: number, y1: number, tolerance: number): Promise<Scene | null> {
    if (!shown) return null;
    const { drawing, bounds, items, sheet } = shown;
    // The windows of a sheet would be cut anew too.
    if (sheet !== undefined) return null;
    const entities = items.meeting(Box2.of(x0, y0, x1, y1));
    if (entities.length > MOST_IN_DETAIL) return null;
    const scene = buildScene(drawing, await loadFonts(), {
      tolerance,
      part: { entities, bounds },
    });
    return handOver(scene);
  },
};

export type DrawingWorker = typeof api;
Comlink.expose(api);

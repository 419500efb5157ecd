import type {
  Affine,
  CarryOverSummary,
  Comparison,
  Drawing,
  Entity,
  FontBook,
  IntakeDecisions,
  LedgerRow,
  PlannedStep,
  Prepared,
  Scene,
  Target,
} from '@scalaria/core';
import {
  ALL_PAGES,
  ART_DEFAULT,
  Box2,
  IDENTITY,
  DRAFTING_DEFAULT,
  Ledger,
  MANY,
  StepFailed,
  buildScene,
  chooseArt,
  compareDrawings,
  conversion,
  deliver,
  differingLines,
  backInPlace,
  readAs,
  readSource,
  scaling,
  settleUnit,
  summarise,
  transformDrawing,
  mapOfStages,
  underData,
  underImage,
  upright,
  withPictures,
  withPictureUnder,
} from '@scalaria/core';
import { handOver, held, loadFonts, pipeline, show, stopSignal } from './held';

/** A delivered file as a scene; `against`: what it is held against, where that is not the prepared drawing as it is. */
export interface DeliveredScenes {
  scene: Scene;
  against: Scene | null;
}

export interface PreparedView {
  scene: Scene;
  ledger: LedgerRow[];
  strip: CarryOverSummary[];
  unit: string | null;
  /** The step that could not be run: the drawing is shown as it is before it. */
  failed: { step: string; message: string } | null;
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

export interface DifferingScenes {
  gone: Scene;
  added: Scene;
  /** How far apart two lines may lie and still be the same, in the unit of the prepared drawing. */
  limit: number;
  /** How many pieces of line differ. */
  count: number;
}

/** A drawing of nothing but chords. */
const ofChords = (like: Drawing, chords: Float64Array): Drawing => ({
  ...like,
  blocks: new Map(),
  sheets: [],
  entities: Array.from({ length: chords.length / 4 }, (_, i) => {
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = chords.subarray(4 * i, 4 * i + 4);
    const line: Entity = {
      id: i + 1,
      kind: 'line',
      layer: '0',
      look: DRAFTING_DEFAULT,
      start: [x0, y0, 0],
      end: [x1, y1, 0],
    };
    return line;
  }),
});

/** A scene with the picture that lies under the drawing; `map` from the coordinates of the file to those of the scene. */
const withUnder = (scene: Scene, under: NonNullable<IntakeDecisions['under']>, map: Affine, fonts: FontBook): Scene =>
  withPictureUnder(scene, underImage(under, map, underData(under, held.pictures), 1), under.opacity / 100, fonts);

/** More entities than these are not cut more finely for a closer look. */
const MOST_IN_DETAIL = 40_000;

/** The drawing cut for the viewport: as it came, as it is prepared, beside an earlier one, as it was delivered. */
export const scenes = {
  /** The drawing as it came, y upwards, in its own coordinates: model space, or one of its sheets. */
  async sourceScene(
    decided: Pick<IntakeDecisions, 'art' | 'under'> = {},
    sheet?: string,
    onDraft?: (scene: Scene) => void,
  ): Promise<Scene> {
    const { art, under } = decided;
    if (!held.source) throw new Error('no drawing is open');
    const whole = withPictures(held.source, held.pictures, new Ledger('intake'));
    const drawing = upright(chooseArt(whole, art ?? ART_DEFAULT, new Ledger('intake')).drawing);
    const fonts = await loadFonts();
    if (onDraft && sheet === undefined && drawing.entities.length > MANY) {
      onDraft(handOver(buildScene(drawing, fonts, { draft: true })));
      // The draft goes on its way before the rest is made.
      await new Promise((resolve) => setTimeout(resolve, 0));
    }
    const scene = buildScene(drawing, fonts, sheet === undefined ? {} : { sheet });
    show(drawing, scene, sheet);
    return handOver(under && sheet === undefined ? withUnder(scene, under, IDENTITY, fonts) : scene);
  },

  /** The drawing after decisions and steps, the first `count` of them alone if that is said; as far as they can be run. */
  async preparedScene(
    decisions: IntakeDecisions,
    steps: PlannedStep[],
    count = steps.length,
    run = 0,
  ): Promise<PreparedView> {
    if (!held.source) throw new Error('no drawing is open');
    const chain = await pipeline();
    let plan = steps.slice(0, count);
    let failed: PreparedView['failed'] = null;
    let made: Prepared;
    try {
      made = chain.run(decisions, plan, { signal: stopSignal(run) });
    } catch (e) {
      if (!(e instanceof StepFailed)) throw e;
      const { step } = e;
      failed = { step, message: e.message };
      plan = plan.slice(
        0,
        plan.findIndex((s) => s.id === step),
      );
      made = chain.run(decisions, plan);
    }
    held.prepared = made.drawing;
    const fonts = await loadFonts();
    const scene = buildScene(made.drawing, fonts);
    show(made.drawing, scene);
    const { under } = decisions;
    // What is delivered is in the drawing itself.
    const seen =
      under && !under.delivered ? withUnder(scene, under, mapOfStages(held.source, made.stages), fonts) : scene;
    held.ready = held.shown;
    const ledger = [...held.reading, ...made.ledger];
    return {
      scene: handOver(seen),
      ledger,
      strip: summarise(held.source, decisions, ledger),
      unit: made.drawing.unit?.unit ?? null,
      failed,
    };
  },

  /** Only what the strip says, without cutting the drawing. */
  async strip(
    decisions: IntakeDecisions,
    steps: PlannedStep[],
  ): Promise<{ strip: CarryOverSummary[]; ledger: LedgerRow[] }> {
    if (!held.source) throw new Error('no drawing is open');
    const chain = await pipeline();
    const upTo = (plan: PlannedStep[]): Prepared => {
      try {
        return chain.run(decisions, plan);
      } catch (e) {
        if (!(e instanceof StepFailed)) throw e;
        const { step } = e;
        return chain.run(
          decisions,
          plan.slice(
            0,
            plan.findIndex((s) => s.id === step),
          ),
        );
      }
    };
    const ledger = [...held.reading, ...upTo(steps).ledger];
    return { strip: summarise(held.source, decisions, ledger), ledger };
  },

  /** What is otherwise in the drawing than in an earlier file of it, as the decisions have both. */
  async compareWith(bytes: ArrayBuffer, name: string, decisions: IntakeDecisions): Promise<CompareView> {
    if (!held.source) throw new Error('no drawing is open');
    const book = await loadFonts();
    const art = decisions.art ?? ART_DEFAULT;
    const plain = (d: Drawing): Drawing => upright(chooseArt(d, art, new Ledger('intake')).drawing);
    const read = (await readSource(new Uint8Array(bytes), name, readAs(decisions))).drawing;
    const [was, is] = [settleUnit(read, decisions), settleUnit(held.source, decisions)];
    const k = was && is ? (was.factor * conversion(was.unit, is.unit)) / is.factor : 1;
    const before = k === 1 ? plain(read) : transformDrawing(plain(read), scaling(k, k, k));
    const after = plain(held.source);
    const comparison = compareDrawings(before, after);
    const ids = (side: 'before' | 'after') => new Set(comparison.differences.flatMap((d) => d[side]));
    const part = (d: Drawing, of: ReadonlySet<number>, inside: boolean): Scene =>
      handOver(
        buildScene(
          { ...d, entities: d.entities.filter((e) => e.sheet === undefined && of.has(e.id) === inside) },
          book,
        ),
      );
    const [old, now] = [ids('before'), ids('after')];
    return {
      comparison,
      unit: { before: read.unit?.unit ?? null, after: held.source.unit?.unit ?? null },
      same: part(after, now, false),
      now: part(after, now, true),
      old: part(before, old, true),
    };
  },

  /** A delivered file, read back and brought into the unit of the prepared drawing: the one that is asked about from then on. */
  async deliveredScene(bytes: ArrayBuffer, name: string, target: Target): Promise<DeliveredScenes> {
    const read = upright((await readSource(new Uint8Array(bytes), name, { page: ALL_PAGES })).drawing);
    const fonts = await loadFonts();
    // What lies on a page is shown where the drawing has it.
    const at = (asked: Target): ReturnType<typeof backInPlace> =>
      held.prepared ? backInPlace(read, held.prepared, asked, fonts) : { drawing: read, composed: false };
    let found = at(target);
    // Pages that show views of it are held against these views, side by side as they were handed to the writer.
    const asked = { ...target, unit: null };
    if (found.composed) found = at(asked);
    const written = found.composed ? deliver(held.prepared!, asked, name, fonts).written : null;
    const d = found.drawing;
    const scene = buildScene(d, fonts);
    held.delivered = d;
    held.against = written;
    held.before = held.shown;
    // From here on what is measured is measured on the file.
    show(d, scene);
    return { scene: handOver(scene), against: written && handOver(buildScene(written, fonts)) };
  },

  /** What only one of both has, of the prepared drawing and the file read back last: as two scenes of lines. */
  async differing(): Promise<DifferingScenes | null> {
    const { delivered } = held;
    const prepared = held.against ?? held.prepared;
    if (!prepared || !delivered) return null;
    const fonts = await loadFonts();
    const { gone, added, limit } = differingLines(prepared, delivered, fonts);
    const scene = (chords: Float64Array): Scene => handOver(buildScene(ofChords(prepared, chords), fonts));
    return { gone: scene(gone), added: scene(added), limit, count: (gone.length + added.length) / 4 };
  },

  /** The box about entities of the prepared drawing, whichever is asked about now. */
  boxInPrepared(ids: number[]): Scene['bounds'] {
    const items = (held.before ?? held.shown)?.items;
    const box = new Box2();
    for (const e of items?.byId(new Set(ids)) ?? []) box.addBox(items!.boxOf(e) ?? new Box2());
    return box.empty ? null : box.toJSON();
  },

  /** What lies in a window, cut more finely; `null` where that is too much. */
  async detail(x0: number, y0: number, x1: number, y1: number, tolerance: number): Promise<Scene | null> {
    if (!held.shown) return null;
    const { drawing, bounds, items, sheet } = held.shown;
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

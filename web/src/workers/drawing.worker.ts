import * as Comlink from 'comlink';
import Flatbush from 'flatbush';
import type {
  ArtDecisions,
  CarryOverSummary,
  Drawing,
  Finding,
  FontBook as Fonts,
  FontUse,
  IntakeDecisions,
  Inventory,
  LedgerRow,
  Parameters,
  Picked,
  PlannedStep,
  Scene,
  SnapKind,
  UnitSuggestion,
} from '@scalaria/core';
import {
  ART_DEFAULT,
  CHECKS,
  Ledger,
  SHIPPED_FONTS,
  SNAP_KINDS,
  buildScene,
  chooseArt,
  conversion,
  findingsReport,
  fontUses,
  inventoryOf,
  isDrafting,
  loadFont,
  pickCurve,
  prepare,
  readDrawing,
  runChecks,
  scaling,
  shippedBook,
  summarise,
  takeIn,
  transformDrawing,
  unitEvidence,
  upright,
} from '@scalaria/core';

const FONT_FILES = import.meta.glob<string>('../../../core/fonts/*.woff2', { query: '?url', import: 'default', eager: true }); // prettier-ignore

/** Reads, prepares, checks and cuts a drawing away from the page. One worker holds one drawing. */

/** The fonts that ship, and those with what the job gives beside them. */
let shipped: Fonts | null = null;
let fonts: Fonts | null = null;
let source: Drawing | null = null;
let reading: LedgerRow[] = [];
let prepared: Drawing | null = null;
let snapIndex: { index: Flatbush; points: Float64Array; kinds: Uint8Array } | null = null;

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
  ]);
  return Comlink.transfer(scene, [...buffers] as ArrayBuffer[]);
}

function indexSnaps(scene: Scene): void {
  const points = scene.snapPoints;
  snapIndex = null;
  if (points.length > 0) {
    const index = new Flatbush(points.length / 2);
    for (let i = 0; i < points.length; i += 2) index.add(points[i]!, points[i + 1]!, points[i]!, points[i + 1]!);
    index.finish();
    snapIndex = { index, points, kinds: scene.snapKinds };
  }
  // The page asks here for snaps; it needs no copy.
  scene.snapPoints = new Float64Array(0);
  scene.snapKinds = new Uint8Array(0);
}

export interface Snap {
  x: number;
  y: number;
  kind: SnapKind;
}

export interface PreparedView {
  scene: Scene;
  ledger: LedgerRow[];
  strip: CarryOverSummary[];
  unit: string | null;
}

const api = {
  /** Reads the bytes of the drawing. Progress from 0 to 1. */
  async open(bytes: ArrayBuffer, name: string, onProgress: (done: number) => void): Promise<void> {
    await loadFonts();
    let said = 0;
    const result = readDrawing(new Uint8Array(bytes), name, {
      onProgress: (done) => {
        if (done - said < 0.02) return;
        said = done;
        onProgress(done);
      },
    });
    source = result.drawing;
    reading = result.ledger;
    prepared = null;
  },

  /** The job's own fonts and its chart from asked-for name to family. */
  async setFonts(given: { family: string; bytes: Uint8Array }[], chart: Record<string, string>): Promise<void> {
    await loadFonts();
    fonts = shipped!.with(
      chart,
      given.map((f) => loadFont(f.bytes, f.family)),
    );
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

  /** The entity of the prepared drawing whose curve passes nearest to a point, within `reach`; its length in its unit. */
  pick(x: number, y: number, reach: number): Picked | null {
    return prepared ? pickCurve(prepared, x, y, reach) : null;
  },

  /** The drawing as it came, y upwards, in its own coordinates: model space, or one of its sheets. */
  async sourceScene(art?: ArtDecisions, sheet?: string): Promise<Scene> {
    if (!source) throw new Error('no drawing is open');
    const shown = chooseArt(source, art ?? ART_DEFAULT, new Ledger('intake'));
    const scene = buildScene(upright(shown), await loadFonts(), sheet === undefined ? {} : { sheet });
    indexSnaps(scene);
    return handOver(scene);
  },

  /** The drawing after decisions and steps. */
  async preparedScene(decisions: IntakeDecisions, steps: PlannedStep[]): Promise<PreparedView> {
    if (!source) throw new Error('no drawing is open');
    const made = prepare(source, decisions, steps, { fonts: await loadFonts() });
    prepared = made.drawing;
    const scene = buildScene(made.drawing, await loadFonts());
    indexSnaps(scene);
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
    const ledger = [...reading, ...prepare(source, decisions, steps, { fonts: await loadFonts() }).ledger];
    return { strip: summarise(source, decisions, ledger), ledger };
  },

  checks(settings: Record<string, Parameters>): Finding[] {
    return prepared ? runChecks(prepared, settings) : [];
  },

  /** Colours, layers and kinds of the prepared drawing. */
  inventory(): Inventory | null {
    return prepared ? inventoryOf(prepared) : null;
  },

  /** The findings as a page to send back to whoever made the drawing. */
  report(name: string, format: string, settings: Record<string, Parameters>): string | null {
    if (!prepared) return null;
    const checks = new Map(CHECKS.map((c) => [c.id, c]));
    const findings = runChecks(prepared, settings);
    return findingsReport(prepared, { name, format, findings, checks, inventory: inventoryOf(prepared) });
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

  /** The nearest point to snap to within `reach`, or null. Ends win over middles at the same distance. */
  snap(x: number, y: number, reach: number): Snap | null {
    if (!snapIndex) return null;
    const { index, points, kinds } = snapIndex;
    let best: Snap | null = null;
    let least = reach;
    for (const i of index.search(x - reach, y - reach, x + reach, y + reach)) {
      const d = Math.hypot(points[2 * i]! - x, points[2 * i + 1]! - y) + kinds[i]! * reach * 1e-3;
      if (d < least) {
        least = d;
        best = { x: points[2 * i]!, y: points[2 * i + 1]!, kind: SNAP_KINDS[kinds[i]!]! };
      }
    }
    return best;
  },
};

export type DrawingWorker = typeof api;
Comlink.expose(api);

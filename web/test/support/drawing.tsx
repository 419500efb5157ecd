import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { ReactElement } from 'react';
import { useState } from 'react';
import { MemoryRouter } from 'react-router';
import type { Drawing, IntakeDecisions, PlannedStep, Review, Target, Yardstick } from '@scalaria/core';
import {
  NO_DECISIONS,
  Pipeline,
  claimsOf,
  deliver,
  readDrawing,
  refOf,
  resolveRef,
  shippedBook,
  summarise,
} from '@scalaria/core';
import { SHIPPED_FONTS, briefly, fontUses } from '@scalaria/core';
import { vi } from 'vitest';
import type { DeliveryRow } from '../../src/api/types';
import type { BookSection } from '../../src/parts/fold-list';
import { NoticeProvider } from '../../src/parts/notice';
import type { DrawingState } from '../../src/routes/drawing/drawing-context';
import { DrawingContext } from '../../src/routes/drawing/drawing-context';
import { forecasting } from '../../src/workers/forecasting';
import { asking } from '../../src/workers/asking';
import { checking } from '../../src/workers/checking';
import { held } from '../../src/workers/held';
import { previewing } from '../../src/workers/previewing';
import { scenes } from '../../src/workers/scenes';
import { Stops } from '../../src/workers/stops';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
export const fonts = shippedBook(
  SHIPPED_FONTS.map(({ file }) => new Uint8Array(readFileSync(here(`../../../core/fonts/${file}`)))),
);

/** A delivery that is written and holds, but for what a test says. */
export const deliveryRow = (more: Partial<DeliveryRow>): DeliveryRow => ({
  id: 'x',
  drawingId: 'd1',
  state: 'done',
  progress: 1,
  target: { format: 'svg', version: '2', unit: 'mm', options: {} },
  fileName: 'a.svg',
  size: 2048,
  error: null,
  createdAt: '2026-11-02T09:30:00Z',
  finishedAt: null,
  verdict: { holds: true, lost: 0, whole: true },
  revision: 1,
  parts: null,
  beside: [],
  ...more,
});

/** A file of the demo job. */
export const demo = (name: string): Drawing =>
  readDrawing(new Uint8Array(readFileSync(here(`../../../demo/files/${name}`))), name).drawing;

/** The bytes of a file of the demo job. */
export const demoBytes = (name: string): Uint8Array<ArrayBuffer> =>
  new Uint8Array(readFileSync(here(`../../../demo/files/${name}`)));

/** What the page's worker does, done here: the real core behind a station. */
function workerOf(source: Drawing) {
  const pipeline = new Pipeline(source, { fonts });
  held.source = source;
  held.fonts = fonts;
  held.pictures = [];
  held.reading = [];
  held.pipeline = null;
  return {
    preparedScene: async (decisions: IntakeDecisions, steps: PlannedStep[], count?: number) => {
      return scenes.preparedScene(decisions, steps, count);
    },
    preview: previewing.preview,
    endPreview: async () => previewing.endPreview(),
    examples: previewing.examples,
    sourceScene: scenes.sourceScene,
    deliveredScene: scenes.deliveredScene,
    isQuick: async (target: Target) => forecasting.isQuick(target),
    pictureFrame: async (target: Target) => forecasting.pictureFrame(target),
    forecast: async (decisions: IntakeDecisions, steps: PlannedStep[], target: Target) => {
      const prepared = pipeline.run(decisions, steps);
      const { ledger } = deliver(prepared.drawing, target, 'forecast', fonts);
      const rows = [...prepared.ledger, ...ledger];
      return { strip: summarise(source, decisions, rows), rows };
    },
    compareWith: scenes.compareWith,
    fontUses: async () => ({ uses: fontUses(source, fonts), families: ['Spline Sans', 'Source Serif'] }),
    refOf: async (id: number) =>
      refOf(
        held.shown!.drawing.entities.find((e) => e.id === id)!,
        held.shown!.drawing,
      ),
    refsOf: async (ids: number[]) => asking.refsOf(ids),
    wordsOf: async (refs: string[]) =>
      refs.map((r) => {
        const e = resolveRef(r, held.shown!.drawing);
        return e && briefly(held.shown!.drawing, e);
      }),
    boxOf: async (ids: number[]) => asking.boxOf(ids),
    idsOf: async (what: { kind?: string; layer?: string }) => asking.idsOf(what),
    differing: scenes.differing,
    boxInPrepared: async (ids: number[]) => scenes.boxInPrepared(ids),
    checks: checking.checks,
    stopChecks: async () => checking.stopChecks(),
    inventory: async () => checking.inventory(),
    hide: async () => {},
    describe: async () => null,
  };
}

/** Sections of the field book, all of them opened. */
export function Opened({ use }: { use: () => BookSection | BookSection[] | null }) {
  const made = use();
  const list = made === null ? [] : Array.isArray(made) ? made : [made];
  return list.map((s) => (
    <section key={s.id} aria-label={s.title} data-open={s.open ?? false}>
      <h2>{s.title}</h2>
      <p>{s.said}</p>
      {s.body()}
    </section>
  ));
}

/** What stations had the strip speak of. */
export const spokenOf = vi.fn();

/** A station with its drawing around it; what it decides counts at once. `kept`: told of everything that is kept. */
export function Around({
  name,
  station,
  kept = vi.fn(),
  state: more = {},
  at = '/',
}: {
  name: string;
  station: ReactElement;
  kept?: (what: unknown, words: string) => void;
  /** What else holds of the drawing or its surroundings. */
  state?: { revision?: number; fonts?: object; target?: Target; claims?: object; worker?: object };
  at?: string;
}) {
  const [source] = useState(() => demo(name));
  const [worker] = useState(() => ({ ...workerOf(source), ...more.worker }));
  const [own, setOwn] = useState<{
    intake: IntakeDecisions;
    steps: PlannedStep[];
    review: Review;
    yardsticks: Yardstick[];
    target: Target | null;
  }>({
    intake: { ...NO_DECISIONS, pxPerInch: source.unit?.unit === 'px' ? 96 : null },
    steps: [],
    review: {},
    yardsticks: [],
    target: more.target ?? null,
  });
  const keep = (change: Partial<typeof own>, words: string): void => {
    kept(change, words);
    setOwn((o) => ({ ...o, ...change }));
  };
  const claims = { ...claimsOf(source), ...more.claims };
  const drawing = {
    id: 'd1',
    jobId: 'j1',
    jobName: 'Kestrel Row',
    name,
    fileName: name,
    createdAt: '2026-11-01T10:00:00Z',
    deleted: false,
    format: source.format,
    version: source.version,
    size: 1,
    entities: source.entities.length,
    unit: source.unit?.unit ?? null,
    revision: more.revision ?? 1,
    checks: {},
    claims,
    ledger: [],
    seen: 1,
    ...own,
  };
  const state = {
    drawing,
    worker,
    free: worker,
    stops: new Stops(),
    onSeen: () => {},
    progress: 1,
    readError: null,
    fonts: { version: 0, given: undefined, refresh: () => {}, ...more.fonts },
    pictures: { version: 0, given: [] },
    references: { version: 0, need: () => {} },
    strip: null,
    ledger: [],
    speakOf: spokenOf,
    setChecks: vi.fn(),
    refresh: async () => {},
    decide: (intake: Partial<IntakeDecisions>, words: string) => keep({ intake: { ...own.intake, ...intake } }, words),
    setSteps: (steps: PlannedStep[], words: string) => keep({ steps }, words),
    setReview: (review: Review, words: string) => keep({ review }, words),
    setTarget: (target: Target) => keep({ target }, 'target'),
  } as unknown as DrawingState;
  return (
    <MemoryRouter initialEntries={[at]}>
      <NoticeProvider>
        <DrawingContext.Provider value={state}>{station}</DrawingContext.Provider>
      </NoticeProvider>
    </MemoryRouter>
  );
}

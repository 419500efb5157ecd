import { beforeAll, describe, expect, it } from 'vitest';
import type { Drawing, Entity, Kept, Renderer } from '../../src/index.js';
import type { Stage } from '../../src/drawing/lineage.js';
import { NO_DECISIONS, plannedStep, prepare, readDrawing, stepById } from '../../src/index.js';
import type { Pixels } from '../../src/formats/picture/png.js';
import { packedPng } from '../../src/formats/picture/png.js';
import type { ProofItem } from '../../src/proof/proof-item.js';
import { traceItems } from '../../src/proof/trace-items.js';
import { readPixels } from '../../src/formats/picture/read-pixels.js';
import { bytesOfAddress } from '../../src/formats/picture/data-address.js';
import { tracedIn, traceDifference } from '../../src/witness/trace-picture.js';
import { demoFile, read } from '../helpers.js';
import { BLACK, BLUE, RED, WHITE, painted } from '../tracing/painted.js';
import { renderer } from './renderer.js';

let judge: Renderer;
beforeAll(async () => {
  judge = await renderer();
});

/** A picture of ten pixels to the millimetre, traced: the stages on the way. */
const stagesOf = (source: Drawing, params: Kept): readonly Stage[] =>
  prepare(source, NO_DECISIONS, [plannedStep(stepById('trace-pictures')!, 't', params)]).stages;
const taken = (picture: Pixels): Drawing => readDrawing(packedPng(picture, 254), 'scan.png').drawing;
const rowOf = (stages: readonly Stage[]): ProofItem => {
  const items = traceItems(stages, judge);
  expect(items).toHaveLength(1);
  return items[0]!;
};
const judged = (picture: Pixels, params: Kept = {}): ProofItem => rowOf(stagesOf(taken(picture), params));
/** The same, with what was traced spoiled before it is looked at. */
const spoiled = (picture: Pixels, params: Kept, spoil: (made: readonly Entity[]) => readonly Entity[]): ProofItem =>
  rowOf(
    stagesOf(taken(picture), params).map((stage) => ({
      ...stage,
      descents: stage.descents.map((d) => (d.claim.kind === 'made' && d.claim.shows ? { ...d, to: spoil(d.to) } : d)),
    })),
  );
const percentOf = (item: ProofItem): number => Number(/: ([\d.e-]+) %/.exec(item.found)![1]);

/** A ring of radii 60 and 90 pixels, a disc of 12 within, and a block of 40 × 60. */
const art = (ink: number, ground: number): Pixels =>
  painted(320, 220, (x, y) => {
    const r = Math.hypot(x - 110, y - 110);
    return (r < 90 && r > 60) || r < 12 || (x > 240 && x < 280 && y > 70 && y < 130) ? ink : ground;
  });
const clean = art(BLACK, WHITE);
const tricolour = painted(240, 120, (x, y) =>
  Math.hypot(x - 60, y - 60) < 40 ? RED : Math.hypot(x - 160, y - 60) < 40 ? BLUE : WHITE,
);

describe('a picture and what was traced of it, drawn by a renderer of another kind', () => {
  it('are the same for clean art, by brightness and by colours, dark or light', () => {
    for (const [picture, params] of [
      [clean, {}],
      [art(WHITE, BLACK), { ink: 'light' }],
      [art(0x102040, 0xf0e8d0), { threshold: 90 }],
      [tricolour, { by: 'colours' }],
      [tricolour, { by: 'colours', ground: 'none' }],
      [clean, { crop: 'box', from: { x: 1, y: 1 }, to: { x: 20, y: 21 } }],
    ] as const) {
      const item = judged(picture, params);
      expect([item.state, item.at, item.id], JSON.stringify(params)).toEqual(['kept', undefined, 'seen-trace']);
      expect(percentOf(item)).toBeLessThan(0.2);
    }
  });

  it('are compared where the picture is turned, mirrored and scaled in the drawing', () => {
    const source = taken(clean);
    const [image] = source.entities;
    if (image?.kind !== 'image') throw new Error('no picture');
    const turned = { ...image, at: [50, -7, 0], u: [0.03, 0.04, 0], v: [0.06, -0.02, 0] } as const;
    expect(rowOf(stagesOf({ ...source, entities: [turned] }, {})).state).toBe('kept');
    const cut = {
      ...image,
      clip: [
        { x: 0, y: 0 },
        { x: 200, y: 220 },
      ].map(({ x, y }) => [x, y] as const),
    };
    expect(rowOf(stagesOf({ ...source, entities: [cut as never] }, {})).state).toBe('kept');
  });

  it('differ where an area is missing, with its place', () => {
    // The block alone is an area of its own: 40 × 60 of 70,400 pixels are 3.4 %.
    const item = spoiled(clean, {}, (made) => made.filter((e) => e.kind === 'circle' || made.indexOf(e) !== 1));
    expect(item.state).toBe('atRisk');
    expect(item.at).toBeDefined();
    for (let gone = 0; gone < 3; gone++) {
      const less = spoiled(clean, {}, (made) => made.filter((_, i) => i !== gone));
      expect([less.state, less.at !== undefined], `without area ${gone}`).toEqual(['atRisk', true]);
    }
  });

  it('differ where a small area is lost that no share would show: a disc of 5 px is 0.1 % of the picture', () => {
    const dots = painted(320, 220, (x, y) =>
      Math.hypot(x - 60, y - 60) < 5 || Math.hypot(x - 200, y - 110) < 70 ? BLACK : WHITE,
    );
    expect(judged(dots).state).toBe('kept');
    const item = spoiled(dots, {}, (made) => made.filter((e) => e.kind !== 'circle' || e.radius > 1));
    expect([item.state, percentOf(item) < 0.2]).toEqual(['atRisk', true]);
    // The picture is 22 mm high: its pixel 60 from above lies at 16 mm.
    expect(Math.hypot(item.at!.x - 6, item.at!.y - 16)).toBeLessThan(0.6);
  });

  it('differ where all lies a pixel beside its place, and more so a twentieth of the size beside', () => {
    const moved =
      (by: number) =>
      (made: readonly Entity[]): Entity[] =>
        made.map((e) => (e.kind === 'circle' ? { ...e, centre: [e.centre[0] + by, e.centre[1], 0] } : e) as Entity);
    const ring = painted(200, 200, (x, y) => (Math.hypot(x - 100, y - 100) < 80 ? BLACK : WHITE));
    expect(judged(ring).state).toBe('kept');
    // A disc of radius 80 moved by 1 px: 4 × 80 × 1 of 40,000 pixels are 0.8 %.
    const one = spoiled(ring, {}, moved(0.1));
    expect(one.state).toBe('changed');
    expect(Math.abs(percentOf(one) - 0.8)).toBeLessThan(0.25);
    expect(spoiled(ring, {}, moved(1)).state).toBe('atRisk');
    // By colours too: two discs of radius 40 are 4 × 2 × 40 of 28,800 pixels, 1.1 %.
    const colours = spoiled(tricolour, { by: 'colours' }, moved(0.1));
    expect(colours.state).toBe('changed');
    expect(Math.abs(percentOf(colours) - 1.1)).toBeLessThan(0.35);
  });

  it('differ where a hole is filled or a colour is another', () => {
    const filled = spoiled(clean, {}, (made) => made.map((e) => ({ ...e, look: { ...e.look, fillRule: 'nonzero' } })));
    // The ring's outline and hole may run the same way or not; one of the two ways fills it.
    const ring = painted(200, 200, (x, y) => (Math.abs(Math.hypot(x - 100, y - 100) - 60) < 20 ? BLACK : WHITE));
    const disc = spoiled(ring, {}, ([e]) => [
      { ...e!, kind: 'circle', centre: [10, 10, 0], radius: 8, path: undefined } as unknown as Entity,
    ]);
    expect(['kept', 'atRisk']).toContain(filled.state);
    expect(disc.state).toBe('atRisk');
    const other = spoiled(tricolour, { by: 'colours' }, (made) =>
      made.map((e, i) => (i === 0 ? { ...e, look: { ...e.look, fill: { kind: 'rgb', rgb: BLUE } } } : e)),
    );
    expect(other.state).toBe('atRisk');
  });

  it('differ where another threshold was gone by than the one that was asked for', () => {
    const grey = painted(120, 80, (x) => (x < 40 ? BLACK : x < 80 ? 0x808080 : WHITE));
    const stages = stagesOf(taken(grey), { threshold: 60 });
    expect(rowOf(stages).state).toBe('kept');
    const asked = stages.map((s) => ({
      ...s,
      descents: s.descents.map((d) =>
        d.claim.kind === 'made' && d.claim.shows
          ? {
              ...d,
              claim: {
                ...d.claim,
                shows: { ...d.claim.shows, by: { kind: 'brightness', threshold: 180, light: false } as const },
              },
            }
          : d,
      ),
    }));
    expect(rowOf(asked).state).toBe('atRisk');
  });

  it('are not told where the picture was straightened, colours merged by hand or edges alone asked for', () => {
    const line = { straighten: 'line', first: { x: 1, y: 10 }, second: { x: 20, y: 11 } };
    for (const params of [
      line,
      { by: 'colours', made: 'edges' },
      { by: 'colours', merged: [{ from: '#d03020', to: '#2050c0' }] },
    ] as Kept[]) {
      const item = judged(tricolour, params);
      expect(item.state).toBe('undecided');
      expect(item.explanation.length).toBeGreaterThan(10);
    }
  });

  it('are the same for the emblem of the demo job, noise and all', () => {
    const scan = read(demoFile('kestrel-row-emblem-scan.png'), 'emblem.png');
    expect(rowOf(stagesOf(scan, { by: 'colours' })).state).toBe('kept');
    expect(rowOf(stagesOf(scan, {})).state).not.toBe('atRisk');
  });

  it('of which there are many are not all looked at, and that is said', () => {
    const source = taken(painted(20, 20, (x, y) => (Math.hypot(x - 10, y - 10) < 6 ? BLACK : WHITE)));
    const [image] = source.entities;
    const entities = Array.from({ length: 14 }, (_, i) => ({ ...image!, id: 100 + i }));
    const items = traceItems(stagesOf({ ...source, entities, nextId: 200 }, {}), judge);
    expect(items.map((i) => i.state)).toEqual([...Array<string>(12).fill('kept'), 'undecided']);
    expect(new Set(items.map((i) => i.id)).size).toBe(13);
  });
});

describe('the difference between a picture and its trace, as a picture', () => {
  const colours = { common: 0x999999, first: 0xc05020, second: 0x205070 };
  const shown = (stages: readonly Stage[]) => {
    const found = traceDifference(stages, judge, colours);
    const [image] = found.drawing.entities;
    if (image?.kind !== 'image') throw new Error('no picture');
    const pixels = readPixels(bytesOfAddress(image.data!)!.bytes)!;
    const at = (x: number, y: number): number[] => [...pixels.data.subarray(4 * (y * 320 + x), 4 * (y * 320 + x) + 4)];
    return { found, image, at };
  };

  it('lies on the picture, pale where both are the same and clear where neither is anything', () => {
    const stages = stagesOf(taken(clean), {});
    const { found, image, at } = shown(stages);
    // As it lay when it was traced: in millimetres, ten pixels to one.
    const original = stages.at(-1)!.before.entities[0]!;
    if (original.kind !== 'image') throw new Error('no picture');
    expect(original.u[0]).toBeCloseTo(0.1, 9);
    expect(image.pixels).toEqual([320, 220]);
    for (const k of [0, 1, 2]) {
      expect(image.at[k]).toBeCloseTo(original.at[k]!, 9);
      expect(image.u[k]).toBeCloseTo(original.u[k]!, 9);
      expect(image.v[k]).toBeCloseTo(original.v[k]!, 9);
    }
    expect([found.pixels, found.why]).toEqual([320 * 220, []]);
    // The middle of the disc, and the ground beside all.
    expect(at(110, 110).slice(0, 3)).toEqual([0x99, 0x99, 0x99]);
    expect(at(110, 110)[3]).toBeLessThan(128);
    expect(at(3, 3)[3]).toBe(0);
  });

  it('shows what is missing in one colour and what was made up in another', () => {
    const stages = stagesOf(taken(clean), {});
    const change = (to: (made: readonly Entity[]) => readonly Entity[]): readonly Stage[] =>
      stages.map((st) => ({
        ...st,
        descents: st.descents.map((d) => (d.claim.kind === 'made' && d.claim.shows ? { ...d, to: to(d.to) } : d)),
      }));
    const gone = shown(change((made) => made.filter((e) => e.kind !== 'circle')));
    expect(gone.at(110, 110)).toEqual([0xc0, 0x50, 0x20, 255]);
    const more = shown(
      change((made) => [...made, { ...made.find((e) => e.kind === 'circle')!, centre: [22, 20, 0] } as Entity]),
    );
    expect(more.at(220, 20)).toEqual([0x20, 0x50, 0x70, 255]);
    // A disc of 12 px is 452 pixels; beside it hardly any differ.
    for (const { found } of [gone, more]) expect(Math.abs(found.other - 452)).toBeLessThan(60);
  });

  it('says why there is none, and whether there is anything to be looked at', () => {
    const line = { straighten: 'line', first: { x: 1, y: 10 }, second: { x: 20, y: 11 } } as const;
    const stages = stagesOf(taken(clean), line);
    const { drawing, why } = traceDifference(stages, judge, colours);
    expect([drawing.entities.length, why.length]).toEqual([0, 1]);
    expect(tracedIn(stages)).toBe(true);
    expect(tracedIn([])).toBe(false);
  });
});

// @vitest-environment happy-dom
import { act, cleanup, renderHook, screen, waitFor } from '@testing-library/react';
import { useRef, useState } from 'react';
import type { KeyedMutator } from 'swr';
import type { CheckSettings, IntakeDecisions, PlannedStep } from '@scalaria/core';
import { NO_DECISIONS } from '@scalaria/core';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { ApiError } from '../src/api/client';
import type { DrawingDetail } from '../src/api/types';
import { NoticeProvider } from '../src/parts/notice';
import { useKeeping } from '../src/routes/drawing/use-keeping';

const server = vi.hoisted(() => ({ sendJson: vi.fn() }));
vi.mock('../src/api/client', async (actual) => ({
  ...(await actual<object>()),
  sendJson: server.sendJson,
  getJson: async () => there.drawing,
}));

type Patch = { intake?: Partial<IntakeDecisions>; unset?: string[]; steps?: PlannedStep[]; seen: number };

/** A server with one drawing: what it holds, and what it was sent. */
class Server {
  intake: IntakeDecisions = { ...NO_DECISIONS };
  steps: PlannedStep[] = [];
  seen = 1;
  readonly sent: Patch[] = [];
  get drawing(): DrawingDetail {
    const { intake, steps, seen } = this;
    return {
      id: 'd1',
      jobId: 'j1',
      name: 'mullion',
      intake,
      steps,
      review: {},
      yardsticks: [],
      seen,
      claims: {},
      ledger: [],
    } as unknown as DrawingDetail;
  }
  patch = async (_method: string, _path: string, body: Patch): Promise<DrawingDetail> => {
    this.sent.push(body);
    this.intake = { ...this.intake, ...body.intake };
    if (body.steps) this.steps = body.steps;
    this.seen++;
    return this.drawing;
  };
}
let there: Server;
beforeEach(() => {
  there = new Server();
  sessionStorage.clear();
  server.sendJson.mockReset().mockImplementation(there.patch);
});
afterEach(cleanup);

function opened() {
  return renderHook(
    () => {
      const [drawing, setDrawing] = useState<DrawingDetail>(() => there.drawing);
      const kept = useRef(drawing);
      const mutate = (async (next?: (d: DrawingDetail) => DrawingDetail | undefined) => {
        kept.current = next ? (next(kept.current) ?? kept.current) : there.drawing;
        setDrawing(kept.current);
      }) as unknown as KeyedMutator<DrawingDetail>;
      const [stable] = useState(() => mutate);
      return { drawing, ...useKeeping('d1', drawing, stable) };
    },
    { wrapper: NoticeProvider },
  );
}
const quiet = (): Promise<void> => act(async () => void (await new Promise((r) => setTimeout(r, 5))));
const step = (id: string): PlannedStep => ({ id, step: 'shift-origin', version: 2, on: true, params: {} });

describe('what is decided', () => {
  test('is shown before it is sent, and only what changed is sent, with the version it was seen at', async () => {
    const { result } = opened();
    let answer = (): void => {};
    server.sendJson.mockImplementationOnce(
      (...a: Parameters<Server['patch']>) => new Promise((r) => (answer = () => r(there.patch(...a)))),
    );
    act(() => result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
    expect(result.current.drawing.intake.unit).toBe('cm');
    expect(result.current.last?.what).toBe('unit cm');
    // A second change before the first is answered goes after it, and knows its version.
    act(() => result.current.change({ steps: [step('a')] }, 'a step'));
    await quiet();
    expect(there.sent).toEqual([]);
    act(() => answer());
    await quiet();
    expect(there.sent).toEqual([
      { intake: { unit: 'cm' }, seen: 1 },
      { steps: [step('a')], seen: 2 },
    ]);
    expect(result.current.drawing).toMatchObject({ seen: 3, steps: [step('a')], intake: { unit: 'cm' } });
  });

  test('that changes nothing is not sent, and cannot be taken back', async () => {
    const { result } = opened();
    act(() => result.current.change({ intake: { ...NO_DECISIONS } }, 'nothing'));
    await quiet();
    expect(there.sent).toEqual([]);
    expect(result.current.last).toBeUndefined();
  });

  test('is taken back one by one, the last first, and no more than that', async () => {
    const { result } = opened();
    act(() => result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
    act(() => result.current.change({ steps: [step('a')] }, 'a step'));
    await quiet();
    // Meanwhile another window decides something else.
    there.intake = { ...there.intake, encoding: 'windows-1252' };
    act(() => result.current.undo());
    await quiet();
    expect(result.current.drawing.steps).toEqual([]);
    act(() => result.current.undo());
    await quiet();
    expect(result.current.drawing.intake).toMatchObject({ unit: null, encoding: 'windows-1252' });
    expect(result.current.last).toBeUndefined();
    act(() => result.current.undo());
    await quiet();
    expect(there.sent).toHaveLength(4);
  });

  test('elsewhere is told when the answer comes', async () => {
    const { result } = opened();
    there.intake = { ...there.intake, encoding: 'windows-1252' };
    act(() => result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
    expect(await screen.findByText(/^Changed in another window: /)).toBeTruthy();
    await waitFor(() => expect(result.current.drawing.intake).toMatchObject({ unit: 'cm', encoding: 'windows-1252' }));
  });

  test('and could not be kept is told with its remedy, and the truth is fetched again', async () => {
    const { result } = opened();
    server.sendJson.mockRejectedValueOnce(new ApiError(422, 'Decided otherwise meanwhile.', undefined, 'Look again.'));
    act(() => result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
    expect(await screen.findByText('Not kept: Decided otherwise meanwhile. Look again.')).toBeTruthy();
    await waitFor(() => expect(result.current.drawing.intake.unit).toBeNull());
    expect(result.current.last).toBeUndefined();
    // The next change is sent as if nothing had been.
    act(() => result.current.change({ intake: { ...NO_DECISIONS, unit: 'm' } }, 'unit m'));
    await waitFor(() => expect(there.sent).toEqual([{ intake: { unit: 'm' }, seen: 1 }]));
  });
});

test('what was taken back is done again, until something else is done', async () => {
  const { result } = opened();
  act(() => result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
  await quiet();
  act(() => result.current.undo());
  await quiet();
  expect(result.current.next?.what).toBe('unit cm');
  act(() => result.current.redo());
  await quiet();
  expect(result.current.drawing.intake.unit).toBe('cm');
  expect(result.current.next).toBeUndefined();
  act(() => result.current.undo());
  await quiet();
  act(() => result.current.change({ steps: [step('a')] }, 'a step'));
  await quiet();
  expect(result.current.next).toBeUndefined();
});

test('undo and redo outlive a reload of the window', async () => {
  const first = opened();
  act(() => first.result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
  await quiet();
  act(() => first.result.current.change({ steps: [step('a')] }, 'a step'));
  await quiet();
  act(() => first.result.current.undo());
  await quiet();
  first.unmount();
  const { result } = opened();
  expect([result.current.last?.what, result.current.next?.what]).toEqual(['unit cm', 'a step']);
  act(() => result.current.undo());
  await quiet();
  expect(there.intake.unit).toBeNull();
  act(() => result.current.redo());
  await quiet();
  expect(there.intake.unit).toBe('cm');
});

test('what another window decided since is not taken back', async () => {
  const first = opened();
  act(() => first.result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
  await quiet();
  first.unmount();
  there.intake = { ...there.intake, unit: 'in' };
  const { result } = opened();
  act(() => result.current.undo());
  expect(await screen.findByText(/“unit cm” was changed since/)).toBeTruthy();
  expect(there.intake.unit).toBe('in');
  expect(result.current.last).toBeUndefined();
});

test('a clash shows both sides, and one’s own can be had all the same', async () => {
  const { result } = opened();
  server.sendJson.mockRejectedValueOnce(new ApiError(409, 'Decided meanwhile in another window: Unit is now in.'));
  there.intake = { ...there.intake, unit: 'in' };
  there.seen = 5;
  act(() => result.current.change({ intake: { ...NO_DECISIONS, unit: 'cm' } }, 'unit cm'));
  expect(await screen.findByText(/Unit: here cm, in the other window in/)).toBeTruthy();
  await act(async () => screen.getByRole('button', { name: 'Use mine' }).click());
  await quiet();
  expect(there.sent).toEqual([{ intake: { unit: 'cm' }, seen: 5 }]);
  expect(there.intake.unit).toBe('cm');
});

test('how a file is written is kept, and is nothing to be taken back', async () => {
  const { result } = opened();
  const target = { format: 'dwg', version: '2010', unit: 'mm', options: {} } as const;
  act(() => result.current.setTarget(target));
  expect(result.current.drawing.target).toEqual(target);
  await quiet();
  expect(server.sendJson).toHaveBeenCalledWith('PATCH', '/api/drawings/d1', { target });
  expect(result.current.last).toBeUndefined();
});

test('thresholds of checks are kept with the job', async () => {
  const { result } = opened();
  const checks: CheckSettings = { 'many-nodes': { most: 500 } };
  server.sendJson.mockResolvedValueOnce({});
  act(() => result.current.setChecks(checks));
  expect(result.current.drawing.checks).toEqual(checks);
  await quiet();
  expect(server.sendJson).toHaveBeenCalledWith('PATCH', '/api/jobs/j1', { checks });
});

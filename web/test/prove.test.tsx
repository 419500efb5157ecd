// @vitest-environment happy-dom
import { cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { Proof, Target } from '@scalaria/core';
import { DEFAULT_TARGETS, NO_DECISIONS, Pipeline, deliver, proveDelivery, weigh } from '@scalaria/core';
import { Prove } from '../src/routes/drawing/prove';
import { Revisions } from '../src/routes/drawing/revisions';
import type { Picture } from '../src/viewport/renderer';
import { Around, demo, demoBytes, fonts } from './support/drawing';

const server = vi.hoisted(() => ({
  rows: [] as unknown[],
  detail: null as unknown,
  revisions: [] as unknown[],
  bytes: new ArrayBuffer(0),
  sendBytes: vi.fn(),
}));
const seen = vi.hoisted(() => ({ pictures: [] as unknown[], goTo: null as unknown }));
vi.mock('../src/viewport/viewport', () => ({
  Viewport: ({ label, pictures, goTo }: { label: string; pictures: unknown[]; goTo?: unknown }) => {
    seen.pictures = pictures;
    seen.goTo = goTo;
    return <div>{label}</div>;
  },
}));
vi.mock('../src/api/hooks', () => ({
  useDeliveries: () => ({ data: server.rows }),
  useDelivery: () => ({ data: server.detail }),
  useRevisions: () => ({ data: server.revisions }),
}));
vi.mock('../src/api/client', async (actual) => ({
  ...(await actual<object>()),
  getBytes: async () => server.bytes.slice(0),
  sendBytes: server.sendBytes,
}));
beforeEach(() => {
  server.rows = [];
  server.detail = null;
  seen.goTo = null;
});
afterEach(cleanup);

const ELEVATION = 'kestrel-row-front-elevation.dxf';
const pictures = (): Picture[] => seen.pictures as Picture[];

/** Writes a demo drawing as the server would, `hurt` on the way, and gives what it would answer. */
function written(target: Target, hurt: (bytes: string) => string = (b) => b): Proof {
  const source = demo(ELEVATION);
  const prepared = new Pipeline(source, { fonts }).run(NO_DECISIONS, []);
  const made = deliver(prepared.drawing, target, ELEVATION, fonts);
  const bytes = new TextEncoder().encode(hurt(new TextDecoder().decode(made.bytes)));
  const proof = proveDelivery(source, prepared, made, bytes, fonts);
  const row = {
    id: 'x1',
    drawingId: 'd1',
    state: 'done',
    fileName: made.name,
    target,
    verdict: weigh(proof),
    revision: 1,
  };
  server.rows = [row];
  server.detail = { ...row, intake: NO_DECISIONS, steps: [], ledger: made.ledger, proof };
  server.bytes = bytes.buffer;
  return proof;
}
const shown = async (state: object = {}): Promise<void> => {
  render(<Around name={ELEVATION} station={<Prove />} state={state} />);
  await waitFor(() => expect(pictures()).toHaveLength(server.detail ? 2 : 1));
};

describe('station five', () => {
  test('before anything is written it says where to write', async () => {
    await shown();
    expect(screen.getByText('Write a file at station four').getAttribute('href')).toBe('/drawings/d1/deliver');
  });

  test('a sound file: the verdict, every comparison by what it is about, the worst first', async () => {
    const proof = written(DEFAULT_TARGETS.dxf);
    await shown();
    expect(proof.holds).toBe(true);
    expect(screen.getByTestId('verdict').textContent).toBe('The proof holds.');
    const rows = [...document.querySelectorAll<HTMLElement>('[data-item]')];
    expect(rows.map((r) => r.dataset['item']).sort()).toEqual(proof.items.map((i) => i.id).sort());
    for (const section of document.querySelectorAll('section[aria-label]')) {
      const rank = ['atRisk', 'lost', 'changed', 'kept'];
      const states = [...section.querySelectorAll<HTMLElement>('[data-state]')].map((r) =>
        rank.indexOf(r.dataset['state']!),
      );
      expect(states).toEqual([...states].sort());
    }
    expect(screen.getByText('Download').getAttribute('href')).toBe('/api/deliveries/x1/file');
  });

  test('a file with one end moved: the proof does not hold, and what differs says both numbers', async () => {
    // The first X of a line that is not 0.
    const proof = written(DEFAULT_TARGETS.dxf, (b) =>
      b.replace(/(AcDbLine\r?\n\s*10\r?\n)([^\r\n]+)/, (_, head: string, x: string) => `${head}${Number(x) + 250}`),
    );
    await shown();
    expect(proof.holds).toBe(false);
    expect(screen.getByTestId('verdict').className).toContain('alarm');
    const bad = [...document.querySelectorAll<HTMLElement>('[data-state=atRisk]')];
    expect(bad.length).toBeGreaterThan(0);
    expect(bad.some((r) => r.textContent.includes('expected'))).toBe(true);
  });

  test('ways to compare: one over the other in two inks, side by side, one alone', async () => {
    written(DEFAULT_TARGETS.svg);
    await shown();
    expect(pictures().map((p) => p.tint)).toEqual(['first', 'second']);
    await userEvent.click(screen.getByLabelText('Wipe'));
    expect(pictures().map((p) => p.side)).toEqual(['left', 'right']);
    expect(screen.getByRole('slider', { name: 'Where prepared and delivered meet' })).toBeTruthy();
    await userEvent.click(screen.getByLabelText('Prepared'));
    const [prepared] = pictures();
    await userEvent.click(screen.getByLabelText('Delivered'));
    expect(pictures()).toHaveLength(1);
    expect(pictures()[0]!.scene).not.toBe(prepared!.scene);
  });

  test('only what differs is shown where that is asked for, and how much it is in words', async () => {
    // The first end of a line goes up by 77 mm.
    written(DEFAULT_TARGETS.dxf, (b) =>
      b.replace(
        /(AcDbLine\r?\n\s*10\r?\n[^\r\n]+\r?\n\s*20\r?\n)([^\r\n]+)/,
        (_, head: string, y: string) => `${head}${Number(y) + 77}`,
      ),
    );
    await shown();
    await userEvent.click(screen.getByLabelText('Differences'));
    await waitFor(() => expect(document.body.textContent).toMatch(/1 piece of line differs by more than .* mm\./));
    // The line as it is; as it was it lay on the edge of the ground, which is there still.
    expect(pictures().map((p) => p.scene.chords)).toEqual([expect.any(Number), 0, 1]);
    expect(pictures()[0]!.scene.layers).toEqual([]);
  });

  test('a sound file differs nowhere', async () => {
    written(DEFAULT_TARGETS.svg);
    await shown();
    await userEvent.click(screen.getByLabelText('Differences'));
    expect(await screen.findByText(/^No line differs by more than .* mm\.$/)).toBeTruthy();
  });

  test('rows lead to their place, or to the objects of their kind; the tolerance has its reason', async () => {
    written(DEFAULT_TARGETS.dxf);
    await shown();
    const item = (id: string) => within(document.querySelector<HTMLElement>(`[data-item=${id}]`)!);
    expect(item('distance').getByText(/the limit: three times what measuring itself may miss/)).toBeTruthy();
    await userEvent.click(item('origin').getByRole('button'));
    expect(seen.goTo).toMatchObject({ x: expect.any(Number) as number, y: expect.any(Number) as number });
    await userEvent.click(item('kind-circle').getByRole('button'));
    await waitFor(() => expect(seen.goTo).toMatchObject({ minX: expect.any(Number) as number }));
  });

  test('a copy on its way is named, and can be stopped', async () => {
    written(DEFAULT_TARGETS.dxf);
    let signal: AbortSignal | undefined;
    server.sendBytes.mockImplementation(
      (_path: string, _file: File, s: AbortSignal) =>
        new Promise((_, reject) => {
          signal = s;
          s.addEventListener('abort', () => reject(new Error('Stopped.')));
        }),
    );
    await shown();
    await userEvent.upload(screen.getByLabelText('Copy to prove'), new File([server.bytes], 'slow.dxf'));
    expect(await screen.findByRole('progressbar', { name: 'Proving slow.dxf' })).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Stop' }));
    expect(signal!.aborted).toBe(true);
    await waitFor(() => expect(screen.queryByRole('progressbar', { name: 'Proving slow.dxf' })).toBeNull());
    expect(screen.queryByText('Stopped.')).toBeNull();
  });

  test('a file of an older revision is told to be one, with where to write it again', async () => {
    written(DEFAULT_TARGETS.dxf);
    await shown({ revision: 3 });
    expect(screen.getByRole('status').textContent).toContain('Written from revision 1; the drawing is at 3 now.');
    expect(screen.getByText('Write it again').getAttribute('href')).toBe('/drawings/d1/deliver');
    cleanup();
    await shown({ revision: 1 });
    expect(screen.queryByText(/Written from revision/)).toBeNull();
  });

  test('what was decided since is told', async () => {
    written(DEFAULT_TARGETS.dxf);
    server.detail = { ...(server.detail as object), intake: { ...NO_DECISIONS, unit: 'cm' } };
    await shown();
    expect(screen.getByText(/Decisions or steps have changed since this was written/)).toBeTruthy();
  });

  test('a copy that came back from elsewhere is proven instead, and left again', async () => {
    const proof = written(DEFAULT_TARGETS.dxf);
    const worse: Proof = { ...proof, holds: false };
    server.sendBytes.mockResolvedValue(worse);
    await shown();
    await userEvent.upload(screen.getByLabelText('Copy to prove'), new File([server.bytes], 'returned.dxf'));
    expect(await screen.findByText(/Comparing the copy “returned\.dxf”/)).toBeTruthy();
    expect(server.sendBytes.mock.lastCall?.[0]).toBe('/api/deliveries/x1/proofs');
    expect(screen.getByTestId('verdict').textContent).toBe('The proof does not hold.');
    await userEvent.click(screen.getByRole('button', { name: 'Back to what was written' }));
    expect(screen.getByTestId('verdict').textContent).toBe('The proof holds.');
  });
});

describe('revisions', () => {
  const page = async (): Promise<void> => {
    render(<Around name="kestrel-row-mullion.dxf" station={<Revisions />} state={{ revision: 2 }} />);
    await waitFor(() => expect(screen.queryByText('comparing …')).toBeNull());
  };
  const before = (edit: (text: string) => string): void => {
    const text = edit(new TextDecoder().decode(demoBytes('kestrel-row-mullion.dxf')));
    server.revisions = [
      { number: 2, fileName: 'mullion.dxf' },
      { number: 1, fileName: 'mullion.dxf' },
    ];
    server.bytes = new TextEncoder().encode(text).buffer;
  };
  /** The first circle, as its record stands in the file. */
  const CIRCLE = /( {2}0\r?\nCIRCLE\r?\n[\s\S]*?\r?\n 40\r?\n)([^\r\n]+)(\r?\n)/;

  test('the same file twice holds no difference', async () => {
    before((t) => t);
    await page();
    expect(screen.getByTestId('comparison').textContent).toMatch(/^\d+ the same, 0 changed, 0 moved, 0 new, 0 gone$/);
    expect(screen.getByText('The revisions are identical.')).toBeTruthy();
  });

  test('another radius is one change, named, and gone to; sorts can be left out', async () => {
    before((t) => {
      expect(t).toMatch(CIRCLE);
      return t.replace(CIRCLE, (_, head: string, r: string, end: string) => `${head}${Number(r) * 1.5}${end}`);
    });
    await page();
    expect(screen.getByTestId('comparison').textContent).toContain(', 1 changed, 0 moved, 0 new, 0 gone');
    const list = within(screen.getByRole('list', { name: 'Differences' }));
    const [row] = list.getAllByRole('button');
    expect(row!.textContent).toMatch(/^Ccircle: its shapechanged · layer GASKET · at /);
    await userEvent.click(row!);
    expect(row!.getAttribute('aria-current')).toBe('true');
    expect(seen.goTo).toMatchObject({ x: expect.any(Number) as number, y: expect.any(Number) as number });
    await userEvent.click(screen.getByRole('checkbox', { name: /changed/ }));
    expect(list.queryAllByRole('button')).toEqual([]);
  });

  test('the only revision has nothing beside it', async () => {
    server.revisions = [{ number: 2, fileName: 'mullion.dxf' }];
    await page();
    expect(screen.getByText(/This is the first revision/)).toBeTruthy();
    // The drawing itself is shown, and the newer file can be taken in here.
    await waitFor(() => expect(pictures()).toHaveLength(1));
    expect(screen.getByRole('button', { name: 'Take in a newer file of this drawing' })).toBeTruthy();
  });
});

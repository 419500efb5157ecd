// @vitest-environment happy-dom
import { act, cleanup, render, renderHook, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { ApiError } from '../src/api/client';
import { UploadList } from '../src/routes/upload-list';
import { useUploads } from '../src/routes/uploads';

interface Sent {
  path: string;
  onProgress: (done: number) => void;
  end: (fault?: ApiError) => void;
  cancelled: boolean;
}
const server = vi.hoisted(() => ({ sent: [] as unknown[] }));
vi.mock('../src/api/client', async (actual) => ({
  ...(await actual<typeof import('../src/api/client')>()),
  upload: (path: string, _file: File, onProgress: (done: number) => void) => {
    const one = { path, onProgress, cancelled: false } as Sent;
    const done = new Promise((resolve, reject) => (one.end = (fault) => (fault ? reject(fault) : resolve({}))));
    server.sent.push(one);
    return { done, cancel: () => void (one.cancelled = true) };
  },
}));
const sent = (): Sent[] => server.sent as Sent[];
beforeEach(() => void (server.sent = []));
afterEach(cleanup);

const file = (name: string): File => new File(['0'], name);
const quiet = (): Promise<void> => act(async () => void (await new Promise((r) => setTimeout(r, 2))));

test('three at once, the next when one is done; each goes where its kind belongs', async () => {
  const done = vi.fn();
  const { result } = renderHook(() => useUploads('j1', done));
  act(() => result.current.add(['a.dxf', 'b.SVG', 'sketch.JPG', 'd.dwg', 'e.dxf'].map(file)));
  expect(result.current.list.map((u) => u.state)).toEqual(Array(5).fill('sending'));
  expect(sent().map((s) => s.path)).toEqual([
    '/api/jobs/j1/drawings?name=a.dxf',
    '/api/jobs/j1/drawings?name=b.SVG',
    '/api/jobs/j1/pictures?name=sketch.JPG',
  ]);
  sent()[1]!.end();
  await quiet();
  expect(sent()).toHaveLength(4);
  expect(done).toHaveBeenCalledTimes(1);
  expect(result.current.list.map((u) => u.name)).toEqual(['a.dxf', 'sketch.JPG', 'd.dwg', 'e.dxf']);
});

test('a file that cannot be read does not hold up the others, and stays with its reason until dismissed', async () => {
  const { result } = renderHook(() => useUploads('j1', () => {}));
  act(() => result.current.add([file('broken.dxf'), file('b.dxf')]));
  sent()[0]!.end(new ApiError(422, 'It ends too early.', 'line 12', 'Save it again.'));
  await quiet();
  expect(result.current.list.map((u) => u.state)).toEqual(['failed', 'sending']);
  const { rerender } = render(<UploadList uploads={result.current} />);
  expect(screen.getByRole('alert').textContent).toBe('It ends too early. Where: line 12.Save it again.');
  await userEvent.click(screen.getByRole('button', { name: 'Dismiss broken.dxf' }));
  rerender(<UploadList uploads={result.current} />);
  expect(screen.queryByRole('alert')).toBeNull();
  expect(result.current.list.map((u) => u.name)).toEqual(['b.dxf']);
});

test('progress is shown until all is sent, then that it is read; stopping ends the sending', async () => {
  const { result } = renderHook(() => useUploads('j1', () => {}));
  act(() => result.current.add([file('a.dxf')]));
  act(() => sent()[0]!.onProgress(0.25));
  const { rerender } = render(<UploadList uploads={result.current} />);
  expect(screen.getByRole('progressbar', { name: 'Sending a.dxf' }).getAttribute('aria-valuenow')).toBe('25');
  act(() => sent()[0]!.onProgress(1));
  rerender(<UploadList uploads={result.current} />);
  expect(screen.getByText('being read …')).toBeTruthy();
  await userEvent.click(screen.getByRole('button', { name: 'Stop a.dxf' }));
  expect(sent()[0]!.cancelled).toBe(true);
  expect(result.current.list).toEqual([]);
});

test('what waits and is stopped is never sent', async () => {
  const { result } = renderHook(() => useUploads('j1', () => {}));
  act(() => result.current.add(['a.dxf', 'b.dxf', 'c.dxf', 'd.dxf', 'e.dxf'].map(file)));
  act(() => result.current.remove(result.current.list.find((u) => u.name === 'd.dxf')!.key));
  for (const s of sent().slice(0, 2)) s.end();
  await quiet();
  expect(sent().map((s) => s.path.split('=')[1])).toEqual(['a.dxf', 'b.dxf', 'c.dxf', 'e.dxf']);
});

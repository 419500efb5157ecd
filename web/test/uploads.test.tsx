// @vitest-environment happy-dom
import { act, cleanup, render, renderHook, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
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
  expect(screen.getByRole('progressbar', { name: 'Reading a.dxf' })).toBeTruthy();
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

test('a file of the name of a drawing waits for a word: a new revision of it, or another drawing', async () => {
  const known = [{ id: 'd7', name: 'Front.dxf' }];
  const { result } = renderHook(() => useUploads('j1', () => {}, known));
  act(() => result.current.add([file('front.dxf'), file('front.dxf'), file('side.dxf')]));
  expect(result.current.list.map((u) => u.state)).toEqual(['named', 'named', 'sending']);
  expect(sent().map((s) => s.path.split('=')[1])).toEqual(['side.dxf']);
  const [first, second] = result.current.list;
  act(() => result.current.answer(first!.key, 'revision'));
  act(() => result.current.answer(second!.key, 'own'));
  expect(sent().map((s) => s.path)).toEqual([
    '/api/jobs/j1/drawings?name=side.dxf',
    '/api/drawings/d7/revisions?name=front.dxf',
    '/api/jobs/j1/drawings?name=front.dxf',
  ]);
});

test('the very same file is not taken in twice unless that is wished; the one that is there can be opened', async () => {
  const { result } = renderHook(() => useUploads('j1', () => {}));
  act(() => result.current.add([file('copy.dxf')]));
  sent()[0]!.end(new ApiError(409, 'copy.dxf is byte for byte revision 2 of “Front”.', undefined, 'Open it.', 'd7'));
  await quiet();
  expect(result.current.list.map((u) => u.state)).toEqual(['same']);
  render(
    <MemoryRouter>
      <UploadList uploads={result.current} />
    </MemoryRouter>,
  );
  expect(screen.getByRole('link', { name: 'Open that one' }).getAttribute('href')).toBe('/drawings/d7');
  await userEvent.click(screen.getByRole('button', { name: 'Take it in once more' }));
  expect(sent()[1]!.path).toBe('/api/jobs/j1/drawings?name=copy.dxf&again=yes');
});

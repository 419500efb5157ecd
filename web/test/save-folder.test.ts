import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { ClashChoice, Outgoing } from '../src/routes/deliveries/save-folder';
import { clashesIn, outgoing, saveInto } from '../src/routes/deliveries/save-folder';

const bytesOf = (text: string): ArrayBuffer => new TextEncoder().encode(text).buffer as ArrayBuffer;
const sumOf = (text: string): string => createHash('sha256').update(text).digest('hex');

/** A folder on a disk, as a browser hands it out; `stays` are names whose writing never ends. */
function folder(files: Map<string, string>, breaks: ReadonlySet<string> = new Set()): FileSystemDirectoryHandle {
  const handle = (name: string) => ({
    getFile: () => Promise.resolve({ arrayBuffer: () => Promise.resolve(bytesOf(files.get(name)!)) }),
    createWritable: () => {
      let held = '';
      return Promise.resolve({
        write: (b: ArrayBuffer) => {
          if (breaks.has(name)) return Promise.reject(new Error('the disk is full'));
          held = new TextDecoder().decode(b);
          return Promise.resolve();
        },
        close: () => Promise.resolve(void files.set(name, held)),
      });
    },
  });
  return {
    getFileHandle: (name: string, { create = false } = {}) =>
      create || files.has(name)
        ? Promise.resolve(handle(name))
        : Promise.reject(new DOMException('no such file', 'NotFoundError')),
  } as unknown as FileSystemDirectoryHandle;
}
const out = (name: string, text: string, sum: string | null = sumOf(text)): Outgoing => ({
  ...{ name, sha256: sum },
  bytes: () => Promise.resolve(bytesOf(text)),
});
const save = async (files: Map<string, string>, list: Outgoing[], choice: ClashChoice) => {
  const there = folder(files);
  return saveInto(there, list, await clashesIn(there, list), choice, () => {});
};

test('the same bytes are no clash to decide: they are told, and not written', async () => {
  const files = new Map([
    ['a.dxf', 'one'],
    ['b.dxf', 'other'],
  ]);
  const list = [out('a.dxf', 'one'), out('b.dxf', 'two'), out('c.dxf', 'three')];
  expect(await clashesIn(folder(files), list)).toEqual([
    { name: 'a.dxf', same: true },
    { name: 'b.dxf', same: false },
  ]);
  // A sum that nobody knew beforehand is taken of the bytes.
  expect(await clashesIn(folder(files), [out('a.dxf', 'one', null)])).toEqual([{ name: 'a.dxf', same: true }]);
});

test('a clash is numbered, replaced or left, as was chosen; another file is never lost but by replacing', async () => {
  const disk = () =>
    new Map([
      ['b.dxf', 'other'],
      ['b-2.dxf', 'older'],
    ]);
  const list = [out('b.dxf', 'two')];
  let files = disk();
  expect(await save(files, list, 'number')).toEqual({ written: ['b-3.dxf'], unchanged: [], left: [] });
  expect(Object.fromEntries(files)).toEqual({ 'b.dxf': 'other', 'b-2.dxf': 'older', 'b-3.dxf': 'two' });
  files = disk();
  expect((await save(files, list, 'leave')).left).toEqual(['b.dxf']);
  expect(files).toEqual(disk());
  files = disk();
  await save(files, list, 'replace');
  expect(files.get('b.dxf')).toBe('two');
});

test('a disk that fails leaves what was there as it was', async () => {
  const files = new Map([['b.dxf', 'other']]);
  const there = folder(files, new Set(['b.dxf']));
  const list = [out('b.dxf', 'two')];
  await expect(saveInto(there, list, await clashesIn(there, list), 'replace', () => {})).rejects.toThrow('full');
  expect(files.get('b.dxf')).toBe('other');
});

test('a file that is numbered does not take the name of one that is still to come', async () => {
  const files = new Map([['d.dxf', 'older']]);
  const done = await save(files, [out('d.dxf', 'one'), out('d-2.dxf', 'two')], 'number');
  expect(done.written).toEqual(['d-3.dxf', 'd-2.dxf']);
  expect([...files.values()]).toEqual(['older', 'one', 'two']);
});

test('law: every file is written, unchanged or left, and but for replacing nothing that was there is changed', async () => {
  const name = fc.constantFrom<string>('a.dxf', 'b.dxf', 'c', 'd-2.dxf', 'd.dxf');
  const text = fc.constantFrom('one', 'two', 'three');
  const disks = fc.array(fc.tuple(name, text), { maxLength: 5 }).map((l) => new Map(l));
  const lists = fc.uniqueArray(fc.tuple(name, text), { selector: ([n]) => n, maxLength: 5 });
  const choices = fc.constantFrom<ClashChoice>('number', 'replace', 'leave');
  await fc.assert(
    fc.asyncProperty(disks, lists, choices, async (files, list, choice) => {
      const before = new Map(files);
      const done = await save(
        files,
        list.map(([n, t]) => out(n, t)),
        choice,
      );
      expect(done.written.length + done.unchanged.length + done.left.length).toBe(list.length);
      if (choice !== 'replace') for (const [n, t] of before) expect(files.get(n)).toBe(t);
      const unwritten = new Set([...done.unchanged, ...done.left]);
      const asked = list.filter(([n]) => !unwritten.has(n));
      expect(done.written.map((n) => files.get(n))).toEqual(asked.map(([, t]) => t));
    }),
    { numRuns: 60 },
  );
});

test('a set goes out with its pictures, manifest and table, and with its report where that is asked for', async () => {
  const manifest = {
    files: [
      { name: 'a.dxf', sha256: sumOf('a'), picture: { name: 'a.png', sha256: sumOf('p') } },
      { name: 'b.dxf', sha256: sumOf('b'), picture: null },
    ],
  } as never;
  const fetched = (what: object): Promise<ArrayBuffer> => Promise.resolve(bytesOf(JSON.stringify(what)));
  const whole = outgoing(manifest, fetched, true);
  expect(whole.map((f) => f.name)).toEqual(['a.dxf', 'a.png', 'b.dxf', 'manifest.json', 'manifest.csv', 'report.html']);
  expect(new TextDecoder().decode(await whole[1]!.bytes())).toBe('{"picture":"a.png"}');
  expect(outgoing(manifest, fetched, false).map((f) => f.name)).not.toContain('report.html');
});

test('what is named in another file keeps its name, and a file does not go beside another picture than its own', async () => {
  const list: Outgoing[] = [
    { ...out('a.dxf', 'one'), names: ['scan.png'] },
    { ...out('scan.png', 'scan'), named: true },
    out('b.dxf', 'two'),
  ];
  // Another picture of that name lies there: neither is written, and both are told; what names nothing goes on.
  const other = new Map([['scan.png', 'another']]);
  for (const choice of ['number', 'leave'] as const) {
    const done = await save(other, list, choice);
    expect([done.left, other.get('scan.png'), other.has('a.dxf'), other.has('scan-2.png')]).toEqual([
      ['a.dxf', 'scan.png'],
      'another',
      false,
      false,
    ]);
    expect(other.get('b.dxf')).toBe('two');
  }
  // The file itself is another there: by a number it would stay with its picture, but nobody would find which.
  const older = new Map([['a.dxf', 'older']]);
  expect((await save(older, list, 'number')).left).toEqual(['a.dxf']);
  const replaced = new Map([
    ['scan.png', 'another'],
    ['a.dxf', 'older'],
  ]);
  expect((await save(replaced, list, 'replace')).left).toEqual([]);
  expect([replaced.get('a.dxf'), replaced.get('scan.png')]).toEqual(['one', 'scan']);
  // The very picture lies there: all is well.
  const same = new Map([['scan.png', 'scan']]);
  expect((await save(same, list, 'number')).written).toEqual(['a.dxf', 'b.dxf']);
});

test('a picture that two files name goes out once', () => {
  const file = (name: string) => ({
    name,
    sha256: sumOf(name),
    beside: [{ name: 'scan.png', sha256: 'x' }],
    names: ['scan.png'],
  });
  const files = outgoing({ files: [file('a.dxf'), file('b.dxf')] } as never, () => Promise.resolve(bytesOf('')), false);
  expect(files.map((f) => [f.name, f.named ?? false, f.names ?? []])).toEqual([
    ['a.dxf', false, ['scan.png']],
    ['scan.png', true, []],
    ['b.dxf', false, ['scan.png']],
    ['manifest.json', false, []],
    ['manifest.csv', false, []],
  ]);
});

import { expect, test } from 'vitest';
import type { SetFile, SetRow } from '../src/api/types';
import { byReason, differsWords, fileWords, isAlarming, setWords } from '../src/routes/deliveries/set-words';

const none: SetRow['counts'] = {
  ...{ files: 0, waiting: 0, working: 0, held: 0, failed: 0, holds: 0 },
  ...{ exceptions: 0, breaks: 0, unchanged: 0, stopped: 0, leftOut: 0 },
};
const words = (counts: Partial<SetRow['counts']>, state: SetRow['state'] = 'done'): string =>
  setWords({ state, counts: { ...none, ...counts } });

test('a set is told as a sum that adds up, its bad parts by name', () => {
  expect(words({ files: 1, holds: 1 })).toBe('1 file = 1 proven');
  expect(words({ files: 9, holds: 5, exceptions: 1, breaks: 1, failed: 2, stopped: 3 })).toBe(
    '12 files = 5 proven + 1 proven with exceptions + 1 whose proof does not hold + 2 not written + 3 that could not be begun',
  );
  expect(words({ files: 4, holds: 1, waiting: 2, working: 1 }, 'working')).toBe('4 files = 1 proven + 3 to come');
  expect(words({ files: 4, holds: 1, held: 3 }, 'stopped')).toBe('4 files = 1 proven + 3 held');
});

test('only what is lost or could not be begun alarms; exceptions and waiting do not', () => {
  const alarms = (counts: Partial<SetRow['counts']>): boolean => isAlarming({ counts: { ...none, ...counts } });
  expect([alarms({ breaks: 1 }), alarms({ failed: 1 }), alarms({ stopped: 1 })]).toEqual([true, true, true]);
  expect([alarms({ exceptions: 3 }), alarms({ waiting: 3, held: 1 }), alarms({})]).toEqual([false, false, false]);
});

test('one reason is told once for a drawing, with what it is the reason of; many names are cut short with their number', () => {
  const empty = (source: string, what: string) => ({ source, what, why: 'empty' });
  expect(byReason([empty('a', 'layer 0'), empty('a', 'layer 1'), empty('b', 'layer 0')])).toEqual([
    { source: 'a', what: 'layer 0, layer 1', why: 'empty' },
    { source: 'b', what: 'layer 0', why: 'empty' },
  ]);
  const many = Array.from({ length: 7 }, (_, i) => empty('a', `L${i}`));
  expect(byReason(many)[0]!.what).toBe('L0, L1, L2 and 4 more');
});

const verdict = (more: object): SetFile['verdict'] => ({ holds: true, whole: true, lost: 0, ...more }) as never;
const file = (state: SetFile['state'], more: Partial<SetFile> = {}) =>
  fileWords({ state, verdict: null, ...more } as SetFile);

test('a file says proven only where its proof holds and nothing is lost', () => {
  expect(file('done', { verdict: verdict({}) })).toEqual({ words: 'proven', alarm: false });
  expect(file('done', { verdict: verdict({ lost: 1 }) }).words).toBe('proven with exceptions');
  expect(file('done', { verdict: verdict({ whole: false }) }).words).toBe('proven with exceptions');
  expect(file('done', { verdict: verdict({ holds: false }) })).toEqual({ words: 'proof does not hold', alarm: true });
  expect(file('done').words).toBe('written');
  expect(file('failed').alarm && file('cancelled').alarm).toBe(true);
  expect(['waiting', 'held', 'working'].map((s) => file(s as SetFile['state']).alarm)).toEqual([false, false, false]);
});

test('what differs is told in numbers, and the same objects in other bytes are not called unchanged', () => {
  const differs = (fresh: number, gone: number, moved: number, changed: number, same = false) =>
    differsWords({ isNew: false, differs: { same, fresh, gone, moved, changed } });
  expect(differs(0, 0, 0, 0, true)).toBe('unchanged, not written again');
  expect(differs(2, 0, 1, 0)).toBe('2 new, 1 moved');
  expect(differs(0, 3, 0, 4)).toBe('3 gone, 4 changed');
  expect(differs(0, 0, 0, 0)).toBe('the same objects, other bytes');
  expect(differsWords({ isNew: true, differs: null })).toBe('new in this set');
  expect(differsWords({ isNew: false, differs: null })).toBe('');
});

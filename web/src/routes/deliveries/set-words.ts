import type { SetFile, SetRow } from '../../api/types';
import { counted } from '../../parts/numbers';

/** How a set is, in one line: what its files came to. */
export function setWords({ state, counts: c }: Pick<SetRow, 'state' | 'counts'>): string {
  const told = [
    [c.holds, 'proven'],
    [c.exceptions, 'proven with exceptions'],
    [c.breaks, 'whose proof does not hold'],
    [c.failed, 'not written'],
    [c.waiting + c.working + c.held, state === 'stopped' ? 'held' : 'to come'],
    [c.stopped, 'that could not be begun'],
  ] as const;
  const sum = told.flatMap(([n, words]) => (n > 0 ? [`${n} ${words}`] : [])).join(' + ');
  return `${counted(c.files + c.stopped, 'file')}${sum === '' ? '' : ` = ${sum}`}`;
}

/** Whether something of a set is no good news. */
export const isAlarming = ({ counts: c }: Pick<SetRow, 'counts'>): boolean => c.breaks + c.failed + c.stopped > 0;

/** What could not be begun or is left out, by drawing and reason: the same reason is told once. */
export function byReason(
  list: readonly { readonly source: string; readonly what: string; readonly why: string }[],
): { source: string; what: string; why: string }[] {
  const groups = new Map<string, { source: string; all: string[]; why: string }>();
  for (const { source, what, why } of list) {
    const key = JSON.stringify([source, why]);
    const known = groups.get(key);
    if (known) known.all.push(what);
    else groups.set(key, { source, all: [what], why });
  }
  return [...groups.values()].map(({ source, all, why }) => {
    const named = all.filter(Boolean);
    const what = named.length > 4 ? `${named.slice(0, 3).join(', ')} and ${named.length - 3} more` : named.join(', ');
    return { source, what, why };
  });
}

/** How a file of a set is, in a few words, and whether that is no good news. */
export function fileWords(f: SetFile): { words: string; alarm: boolean } {
  switch (f.state) {
    case 'waiting':
      return { words: 'waiting', alarm: false };
    case 'held':
      return { words: 'held', alarm: false };
    case 'working':
      return { words: 'being written', alarm: false };
    case 'failed':
      return { words: 'not written', alarm: true };
    case 'cancelled':
      return { words: 'stopped', alarm: true };
    case 'done': {
      const { verdict } = f;
      if (!verdict) return { words: 'written', alarm: false };
      if (!verdict.holds) return { words: 'proof does not hold', alarm: true };
      return { words: verdict.lost > 0 || !verdict.whole ? 'proven with exceptions' : 'proven', alarm: false };
    }
  }
}

/** What differs from the file that it stands for. */
export function differsWords({ differs: d, isNew }: Pick<SetFile, 'differs' | 'isNew'>): string {
  if (isNew) return 'new in this set';
  if (!d) return '';
  if (d.same) return 'unchanged, not written again';
  const told = [
    [d.fresh, 'new'],
    [d.gone, 'gone'],
    [d.moved, 'moved'],
    [d.changed, 'changed'],
  ] as const;
  const words = told.flatMap(([n, w]) => (n > 0 ? [`${n} ${w}`] : [])).join(', ');
  return words === '' ? 'the same objects, other bytes' : words;
}

/** Today on this machine's calendar, `YYYY-MM-DD`. */
export function today(): string {
  const d = new Date();
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`;
}

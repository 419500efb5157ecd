import type { BookedPart } from '../parts/book.js';
import { numberFaultsOf } from '../parts/book.js';
import { UserError } from '../errors.js';
import type { Kept } from '../parameters/parameter.js';
import { stepById } from '../steps/index.js';
import type { PlannedStep } from '../steps/step.js';
import { plannedStep } from '../steps/step.js';
import type { Target } from './target.js';

/** So many numbers are named in an error; the rest is counted. */
const MOST_NAMED = 5;

const named = (list: readonly string[]): string =>
  list.length <= MOST_NAMED
    ? list.join(', ')
    : `${list.slice(0, MOST_NAMED).join(', ')} and ${list.length - MOST_NAMED} more`;
const round = (v: number): number => Number(v.toPrecision(6));
const calledLike = (r: BookedPart): string =>
  r.name === '' ? `${round(r.length)} × ${round(r.width)}` : `“${r.name}”`;
const key = (number: string): string => number.trim().toLowerCase();
const no = (message: string): UserError => new UserError('cannot-deliver', message);

/**
 * What is to be done for a file of chosen parts alone, or one whose parts must all have a number of their own: the step that keeps what belongs
 * in it, `null` where all does, and the numbers of the parts in it. Parts that are knowingly left out are in no such file. `rules`
 * are those that the parts were found by; `others` are the parts of other drawings that must not share a number.
 *
 * @throws UserError where a part has no number, several have one, or one that is asked for is not there or left out.
 */
export function partsInFile(
  own: readonly BookedPart[],
  rules: Kept,
  { parts }: Pick<Target, 'parts'>,
  others: readonly Pick<BookedPart, 'number' | 'leftOut'>[] = [],
): { step: PlannedStep | null; numbers: string[] } {
  const isOut = (r: BookedPart): boolean => r.leftOut !== null;
  const asked = parts && new Set(parts.map(key));
  const chosen = own.filter((r) => (asked ? asked.has(key(r.number)) : !isOut(r)));
  stopAtFaults(asked ? chosen : own, asked ? [...own.filter((r) => !chosen.includes(r)), ...others] : others);
  const known = new Set(own.map((r) => key(r.number)));
  const lost = parts?.filter((n) => !known.has(key(n))) ?? [];
  if (lost.length > 0) throw no(`no part of this drawing has the number ${named(lost)}`);
  const [left] = chosen.filter(isOut);
  if (left) throw no(`part ${left.number} is left out (${left.leftOut}): take it in again, or choose others`);
  const numbers = chosen.map((r) => r.number);
  const picked = asked ? chosen : own.filter(isOut);
  if (picked.length === 0) return { step: null, numbers };
  const keep = stepById('keep-parts')!;
  const found = Object.fromEntries(Object.entries(rules).filter(([name]) => name in keep.params));
  const params = { ...found, how: asked ? 'keep' : 'drop', parts: refsOf(picked, own) };
  return { step: plannedStep(keep, 'parts', params), numbers };
}

function stopAtFaults(own: readonly BookedPart[], others: readonly Pick<BookedPart, 'number' | 'leftOut'>[]): void {
  const { missing } = numberFaultsOf(own);
  if (missing.length === 1) throw no(`a part has no number: ${calledLike(missing[0]!)}`);
  if (missing.length > 1) throw no(`${missing.length} parts have no number: ${named(missing.map(calledLike))}`);
  const mine = new Set(own.filter((r) => r.leftOut === null).map((r) => key(r.number)));
  const twice = [...numberFaultsOf([...own, ...others]).twice.keys()].filter((n) => mine.has(n));
  if (twice.length > 0) throw no(`several parts have the number ${named(twice)}`);
}

/** What is picked for parts: their outlines, or the placed blocks that hold nothing but one of them. */
function refsOf(chosen: readonly BookedPart[], all: readonly BookedPart[]): string[] {
  const inBlock = new Map<string, number>();
  const byOutline = new Map<string, number>();
  const add = (to: Map<string, number>, ref: string): void => void to.set(ref, (to.get(ref) ?? 0) + 1);
  for (const { outline, placed } of all.flatMap((r) => r.refs)) {
    if (placed !== null) add(inBlock, placed);
    add(byOutline, outline);
  }
  const wanted = chosen.flatMap((r) => r.refs);
  const asked = new Map<string, number>();
  for (const { outline } of wanted) add(asked, outline);
  return [
    ...new Set(
      wanted.map(({ outline, placed }) => {
        if (placed !== null && inBlock.get(placed) === 1) return placed;
        if (placed !== null && asked.get(outline) !== byOutline.get(outline))
          throw no('these parts stand in a block with others, which is placed several times: break up blocks first');
        return outline;
      }),
    ),
  ];
}

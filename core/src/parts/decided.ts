import type { KeptPart } from './kept.js';
import type { SaidOfPart, Sayable } from './said.js';
import { SAYABLE } from './said.js';

/** What can be decided of a part, and what that comes to where nothing was. */
export interface Decided {
  /** Empty where it has none. */
  readonly number: string;
  /** Who says it: the drawing, somebody before, or nobody. */
  readonly numbered: 'said' | 'kept' | 'none';
  readonly name: string;
  readonly kind: string;
  readonly material: string;
  readonly thickness: string;
  /** In degrees from x, and which side is worked on. */
  readonly grain: string;
  readonly side: string;
  readonly quantity: number;
  readonly leftOut: string | null;
  /** What of it a person says, and not the drawing. */
  readonly byHand: readonly Sayable[];
}

/** What a part comes to, by what the drawing says of it and what was decided. */
export function decided(said: SaidOfPart, kept: KeptPart | undefined, members: number): Decided {
  const number = kept && (kept.byHand || said.number === undefined) ? kept.number : (said.number ?? '');
  const words = { ...said, ...kept?.words };
  const byHand = SAYABLE.filter((name) => (name === 'number' ? kept?.byHand : kept?.words?.[name] !== undefined));
  const each = Number(words.quantity ?? 1);
  return {
    number,
    numbered: number === '' ? 'none' : said.number !== undefined && !kept?.byHand ? 'said' : 'kept',
    name: words.name ?? '',
    kind: words.kind ?? '',
    material: words.material ?? '',
    thickness: words.thickness ?? '',
    grain: words.grain ?? '',
    side: words.side ?? '',
    // What the drawing says is of each that is drawn, what a person says is of all of them.
    quantity: (byHand.includes('quantity') ? 1 : members) * (Number.isInteger(each) && each > 0 ? each : 1),
    leftOut: kept?.leftOut ?? null,
    byHand,
  };
}

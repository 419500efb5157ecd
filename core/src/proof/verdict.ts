import type { ProofItem } from './proof-item.js';

/** What a proof comes to, without its words. */
export interface Verdict {
  holds: boolean;
  /** So many things are lost all the same. */
  lost: number;
  /** The source itself is whole. */
  whole: boolean;
}

/** Weighs the rows of a proof. */
export function weigh(proof: { holds: boolean; items: readonly ProofItem[] }): Verdict {
  const { holds, items } = proof;
  const lost = items.filter((i) => i.state === 'lost' && i.about !== 'source');
  return {
    holds,
    lost: lost.reduce((n, i) => n + (i.count ?? 1), 0),
    whole: !items.some((i) => i.about === 'source'),
  };
}

/** A verdict in one sentence: whether the proof holds, and what was lost all the same. */
export function verdictWords({ holds, lost, whole }: Verdict): string {
  if (!holds) return 'The proof does not hold.';
  const said = [
    ...(whole ? [] : ['the source itself is not whole']),
    ...(lost > 0 ? [`${lost} ${lost === 1 ? 'object is' : 'objects are'} lost`] : []),
  ];
  return said.length === 0 ? 'The proof holds.' : `The proof holds, but ${said.join(' and ')}.`;
}

/** What a proof comes to in one sentence. */
export const verdictOf = (proof: { holds: boolean; items: readonly ProofItem[] }): string => verdictWords(weigh(proof));

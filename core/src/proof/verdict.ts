import type { ProofItem } from './proof-item.js';

/** What a proof comes to in one sentence: whether it holds, and what was lost all the same. */
export function verdictOf(proof: { holds: boolean; items: readonly ProofItem[] }): string {
  if (!proof.holds) return 'The proof does not hold.';
  const lost = proof.items
    .filter((i) => i.state === 'lost' && i.about !== 'source')
    .reduce((n, i) => n + (i.count ?? 1), 0);
  const said = [
    ...(proof.items.some((i) => i.about === 'source') ? ['the source itself is not whole'] : []),
    ...(lost > 0 ? [`${lost} ${lost === 1 ? 'thing is' : 'things are'} lost`] : []),
  ];
  return said.length === 0 ? 'The proof holds.' : `The proof holds, but ${said.join(' and ')}.`;
}

import type { Coverage } from '@scalaria/core';
import { plainNumber } from '../../parts/numbers';

/** How many parts went out, are left out and are still to come: a bar in three shapes, each with its word. */
export function CoverageBar({ coverage }: { coverage: Coverage }) {
  const { parts, delivered, leftOut, open } = coverage;
  const of = (n: number): string => `${parts === 0 ? 0 : (100 * n) / parts}%`;
  return (
    <div data-testid="coverage">
      <div className="flex h-2.5 w-full border border-ink" aria-hidden>
        <span className="bg-ink" style={{ width: of(delivered) }} />
        <span
          className="border-x border-ink bg-[repeating-linear-gradient(45deg,var(--ink)_0_1.5px,transparent_1.5px_5px)]"
          style={{ width: of(leftOut), ...(leftOut === 0 && { display: 'none' }) }}
        />
      </div>
      <p className="num mt-1 text-sm">
        {plainNumber(parts)} {parts === 1 ? 'part' : 'parts'} = {plainNumber(delivered)} delivered +{' '}
        {plainNumber(leftOut)} left out + {plainNumber(open)} still to go out
      </p>
    </div>
  );
}

import type { CarryOverState } from '@scalaria/core';
import { stateShape } from '@scalaria/core';

export { STATE_WORDS } from '@scalaria/core';

/** The bar of a state; its word stands beside it. */
export function StateBar({ state, width = 44 }: { state: CarryOverState; width?: number }) {
  const h = 9;
  const w = width;
  const alarm = state === 'atRisk' || state === 'lost';
  const { path, fill } = stateShape(state, w, h);
  return (
    <svg width={w} height={h} viewBox={`0 0 ${w} ${h}`} className={alarm ? 'text-alarm' : 'text-ink'} aria-hidden>
      {fill === 'hatched' && (
        <defs>
          <pattern id="at-risk" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="2.4" height="5" fill="currentColor" />
          </pattern>
        </defs>
      )}
      <path
        d={path}
        fill={fill === 'full' ? 'currentColor' : fill === 'hatched' ? 'url(#at-risk)' : 'none'}
        {...(fill !== 'full' && { stroke: 'currentColor', strokeWidth: fill === 'none' ? 1.5 : 1 })}
      />
    </svg>
  );
}

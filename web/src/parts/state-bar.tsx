import type { CarryOverState } from '@scalaria/core';

/** States are told by shape and word first. */
export const STATE_WORDS: Record<CarryOverState, string> = {
  kept: 'kept',
  changed: 'changed on purpose',
  undecided: 'undecided',
  atRisk: 'at risk',
  lost: 'lost',
};

/** kept = filled bar, changed = bar with a notch, undecided = outlined, at risk = hatched, lost = broken. */
export function StateBar({ state, width = 44 }: { state: CarryOverState; width?: number }) {
  const h = 9;
  const w = width;
  const alarm = state === 'atRisk' || state === 'lost';
  return (
    <svg width={w} height={h} viewBox={`0 0 ${w} ${h}`} className={alarm ? 'text-alarm' : 'text-ink'} aria-hidden>
      {state === 'kept' && <rect width={w} height={h} fill="currentColor" />}
      {state === 'changed' && (
        <path d={`M0 0H${w}V${h}H${w / 2 + 6}L${w / 2} 2L${w / 2 - 6} ${h}H0Z`} fill="currentColor" />
      )}
      {state === 'undecided' && (
        <rect x=".75" y=".75" width={w - 1.5} height={h - 1.5} fill="none" stroke="currentColor" strokeWidth="1.5" />
      )}
      {state === 'atRisk' && (
        <>
          <defs>
            <pattern id="at-risk" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="2.4" height="5" fill="currentColor" />
            </pattern>
          </defs>
          <rect x=".5" y=".5" width={w - 1} height={h - 1} fill="url(#at-risk)" stroke="currentColor" />
        </>
      )}
      {state === 'lost' && (
        <path d={`M0 0H${w * 0.36}L${w * 0.28} ${h}H0ZM${w * 0.62} 0H${w}V${h}H${w * 0.54}Z`} fill="currentColor" />
      )}
    </svg>
  );
}

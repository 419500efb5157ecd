/** How a carry-over fared. */
export type CarryOverState = 'kept' | 'changed' | 'undecided' | 'atRisk' | 'lost';

/** What the state of a carry-over is called. */
export const STATE_WORDS: Readonly<Record<CarryOverState, string>> = {
  kept: 'kept',
  changed: 'changed on purpose',
  undecided: 'undecided',
  atRisk: 'at risk',
  lost: 'lost',
};

/** How a state is drawn, by shape before colour: the outline of its bar, and how that is filled. */
export interface StateShape {
  path: string;
  fill: 'full' | 'none' | 'hatched';
}

/** Kept is a full bar, changed one with a notch, undecided an outline, at risk hatched, lost broken; `w` by `h`. */
export function stateShape(state: CarryOverState, w: number, h: number): StateShape {
  const bar = (inset: number): string => `M${inset} ${inset}H${w - inset}V${h - inset}H${inset}Z`;
  switch (state) {
    case 'kept':
      return { path: `M0 0H${w}V${h}H0Z`, fill: 'full' };
    case 'changed':
      return { path: `M0 0H${w}V${h}H${w / 2 + 6}L${w / 2} 2L${w / 2 - 6} ${h}H0Z`, fill: 'full' };
    case 'undecided':
      return { path: bar(0.75), fill: 'none' };
    case 'atRisk':
      return { path: bar(0.5), fill: 'hatched' };
    case 'lost':
      return { path: `M0 0H${w * 0.36}L${w * 0.28} ${h}H0ZM${w * 0.62} 0H${w}V${h}H${w * 0.54}Z`, fill: 'full' };
  }
}

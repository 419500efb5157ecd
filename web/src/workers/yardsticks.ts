import type { Held, IntakeDecisions, PlannedStep, UnitName, Yardstick, YardstickPlace } from '@scalaria/core';
import { UserError, holdAgainst, measureNow, placeOn, stepById, shapePlaceOn } from '@scalaria/core';
import { held, loadFonts, pipeline } from './held';

/** Yardsticks as they stood after one station: after taking in, or after a step. */
export interface HeldAfter {
  title: string;
  held: Held[];
}

/** Features of known size, measured in the drawing at hand on its way. */
export const yardsticks = {
  /** After taking in and after each step, in order. */
  async yardsticksAlong(decisions: IntakeDecisions, steps: PlannedStep[], list: Yardstick[]): Promise<HeldAfter[]> {
    if (!held.source || list.length === 0) return [];
    const fonts = await loadFonts();
    const chain = await pipeline();
    const on = steps.filter((s) => s.on);
    const out: HeldAfter[] = [];
    for (const [i, step] of [null, ...on].entries())
      try {
        const { drawing } = chain.run(decisions, on.slice(0, i));
        out.push({
          title: step ? (stepById(step.step)?.title ?? step.step) : 'Taking in',
          held: holdAgainst(list, drawing, fonts),
        });
      } catch (e) {
        // The station says what is wrong with the step; yardsticks stand as they stood before it.
        if (!(e instanceof UserError)) throw e;
        break;
      }
    return out;
  },

  /** The places of a yardstick on the drawing in sight; `null` where one is not to be had. */
  async yardstickPlaces(
    what: Yardstick['what'],
    at: { x: number; y: number; reach?: number }[],
    unit: UnitName,
  ): Promise<YardstickPlace[] | null> {
    const drawing = held.shown?.drawing;
    if (!drawing) return null;
    const points = what === 'distance' || what === 'angle';
    const places = at.map((p) => (points ? placeOn(drawing, p, unit) : shapePlaceOn(drawing, p, unit, p.reach)));
    return places.every((p) => p !== null) ? places : null;
  },

  /** What a yardstick measures on the drawing in sight. */
  async measureYardstick(y: Omit<Yardstick, 'expected'>): Promise<number | string | null> {
    const drawing = held.shown?.drawing;
    return drawing ? measureNow(y, drawing, await loadFonts()) : null;
  },
};

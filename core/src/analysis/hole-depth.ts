import { namePattern } from '../drawing/name-pattern.js';
import { hex } from '../drawing/palette.js';
import { COINCIDENT } from '../geometry/tolerance.js';
import type { SeenAt } from './outline-roles.js';

/** Whether a hole goes through what it is in; `undecided` where nothing says. A diameter alone never does. */
export type HoleDepth = 'through' | 'blind' | 'undecided';

/** What is known of holes beside their outlines. Lengths in the drawing's unit. */
export interface DepthSources {
  /** How thick what they are in is; 0 where that is not known beyond what the drawing says. */
  readonly sheet: number;
  /** The attribute of a placed block that holds a depth, or the word through or blind. */
  readonly attribute: string;
  /** `#rrggbb`, or `null`. */
  readonly throughColour: string | null;
  readonly blindColour: string | null;
  /** Layers by name pattern; empty for none. */
  readonly throughLayers: string;
  readonly blindLayers: string;
}

/** Asks the sources in their order, the first that knows counting: height, thickness, attribute, colour, layer. */
export function holeDepth(hole: SeenAt, plate: SeenAt | null, sources: DepthSources): HoleDepth {
  const sheet = sources.sheet || Math.abs(plate?.visit.entity.thickness ?? 0);
  const byMeasure = (depth: number): HoleDepth | null =>
    !(depth > 0) || !(sheet > 0) ? null : depth >= sheet * (1 - COINCIDENT) ? 'through' : 'blind';
  return (
    byMeasure(plate ? Math.abs(plate.height - hole.height) : 0) ??
    byMeasure(Math.abs(hole.visit.entity.thickness ?? 0)) ??
    byAttribute(hole, sources.attribute, byMeasure) ??
    byColour(hole, sources) ??
    byLayer(hole, sources) ??
    'undecided'
  );
}

function byAttribute(
  { visit: { top } }: SeenAt,
  tag: string,
  byMeasure: (depth: number) => HoleDepth | null,
): HoleDepth | null {
  if (top.kind !== 'insert' || tag.trim() === '') return null;
  const said = top.attributes.find((a) => a.tag?.toLowerCase() === tag.trim().toLowerCase())?.text.trim() ?? '';
  if (/^(through|blind)$/i.test(said)) return said.toLowerCase() as HoleDepth;
  // A comma stands for the point; what is said after the number (its unit, a remark) is not guessed at.
  return /^[0-9]+([.,][0-9]+)?$/.test(said) ? byMeasure(Number(said.replace(',', '.'))) : null;
}

function byColour({ visit: { resolved } }: SeenAt, { throughColour, blindColour }: DepthSources): HoleDepth | null {
  const seen = resolved.stroke ?? resolved.fill;
  if (seen === null) return null;
  const is = (wanted: string | null): boolean => wanted !== null && wanted.toLowerCase() === hex(seen);
  return is(throughColour) ? 'through' : is(blindColour) ? 'blind' : null;
}

function byLayer({ visit: { resolved } }: SeenAt, { throughLayers, blindLayers }: DepthSources): HoleDepth | null {
  const fits = (pattern: string): boolean => pattern.trim() !== '' && namePattern(pattern)(resolved.layer);
  return fits(throughLayers) ? 'through' : fits(blindLayers) ? 'blind' : null;
}

import type { Finding } from './check.js';

/** What a drawing is made ready for. It decides which checks speak up, and whether what they find is more than a note. */
export const PURPOSES = {
  any: 'Any use',
  drafting: 'Drafting',
  cut: 'Cutting',
  solid: '3D',
  motion: 'Animation',
  print: 'Print',
} as const;

export type Purpose = keyof typeof PURPOSES;

export const isPurpose = (name: unknown): name is Purpose =>
  typeof name === 'string' && Object.prototype.hasOwnProperty.call(PURPOSES, name);

/** What becomes of a check under a purpose: it speaks as it does, what it finds is only a note, or it is not asked. */
export type Voice = 'own' | 'note' | 'silent';

type Exceptions = Partial<Record<Purpose, Voice>>;

/**
 * Where a check does not speak with its own voice. Whatever damages a file, its unit, its text or its references concerns
 * everybody and is not listed. Illustrations stack filled shapes and nets of faces touch in corners: that is told as a
 * finding only where somebody cuts or builds from them.
 */
const VOICES: Readonly<Record<string, Exceptions>> = {
  'open-outlines': { drafting: 'note', motion: 'note', print: 'silent' },
  'self-crossing': { any: 'note', drafting: 'note', motion: 'silent', print: 'silent' },
  doubles: { motion: 'note', print: 'note' },
  overlapping: { solid: 'note', motion: 'silent', print: 'note' },
  'without-length': { motion: 'note', print: 'note' },
  'touching-outlines': { any: 'note', drafting: 'note', motion: 'silent', print: 'silent' },
  'unshared-points': { any: 'note', drafting: 'note', cut: 'note', motion: 'silent', print: 'silent' },
  'far-from-origin': { print: 'silent' },
  'long-decimals': { motion: 'silent', print: 'silent' },
  'off-plane': { solid: 'note' },
  'stacked-shapes': { drafting: 'silent', cut: 'note', motion: 'silent', print: 'silent' },
  'hidden-circles': { motion: 'silent', print: 'silent' },
  'broken-curves': { drafting: 'note', motion: 'silent', print: 'silent' },
  'many-nodes': { drafting: 'note', print: 'silent' },
  'redundant-groups': { cut: 'note', print: 'silent' },
  'text-over-outline': { solid: 'silent', motion: 'note' },
  'special-paints': { motion: 'note', print: 'note' },
  'similar-colours': { drafting: 'note', solid: 'silent', motion: 'silent' },
  'layer-names': { cut: 'note', motion: 'note', print: 'note' },
  'uneven-inserts': { motion: 'note', print: 'note' },
  'typed-over-dimensions': { motion: 'note' },
  'only-pictures': { motion: 'note', print: 'silent' },
};

/** With which voice a check speaks under a purpose. */
export const voiceOf = (check: string, purpose: Purpose): Voice => VOICES[check]?.[purpose] ?? 'own';

/** What a check found, as it is told under a purpose. */
export function underPurpose(found: readonly Finding[], check: string, purpose: Purpose): Finding[] {
  const voice = voiceOf(check, purpose);
  if (voice === 'silent') return [];
  return voice === 'own' ? [...found] : found.map((f) => (f.severity === 'note' ? f : { ...f, severity: 'note' }));
}

/**
 * By which a finding is known again when the checks run anew, and in the next revision if it lies in the same place: the
 * check, the layer, what it says, and where (to six digits).
 */
export function findingKey(f: Finding): string {
  const at = f.at ? `${Number(f.at.x.toPrecision(6))},${Number(f.at.y.toPrecision(6))}` : '';
  return [f.check, f.layer ?? '', at, f.message].join('|').slice(0, MOST_KEY);
}

/** All findings of a check, set aside at once. */
export const wholeCheckKey = (check: string): string => `${check}|*`;

/** The longest key that is kept. */
export const MOST_KEY = 400;

/** Findings that are told, and those that somebody set aside, by the keys that are kept with a reason. */
export function withoutAside(
  found: readonly Finding[],
  aside: Readonly<Record<string, string>>,
): { told: Finding[]; aside: Finding[] } {
  const out = { told: [] as Finding[], aside: [] as Finding[] };
  for (const f of found) out[wholeCheckKey(f.check) in aside || findingKey(f) in aside ? 'aside' : 'told'].push(f);
  return out;
}

/** What was decided about the findings of a drawing. */
export interface Review {
  purpose?: Purpose;
  /** Why findings are set aside, by their key. */
  aside?: Record<string, string>;
}

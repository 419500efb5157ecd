import type { Finding } from '@scalaria/core';

/** What a severity is called, the mark it has (shape first, colour second), and how it is counted. */
export const SEVERITY = {
  error: ['▲', 'fix'],
  warning: ['◆', 'look at'],
  note: ['○', 'for information'],
} as const;

/** The same in a line that has little room. */
export const SHORT = { error: 'fix', warning: 'look at', note: 'info' } as const;

/** The worse one first. */
export const WORSE: Record<Finding['severity'], number> = { error: 0, warning: 1, note: 2 };

/** The worst severity among findings; `null` without any. */
export const worstOf = (findings: readonly Finding[]): Finding['severity'] | null =>
  findings.reduce<Finding['severity'] | null>(
    (worst, f) => (worst === null || WORSE[f.severity] < WORSE[worst] ? f.severity : worst),
    null,
  );

/** How many findings there are; one may stand for many that are not listed. */
export const countOf = (findings: readonly Finding[]): number => findings.reduce((n, f) => n + (f.more ?? 1), 0);

/** How many findings there are of each severity, in words. */
export function tally(findings: readonly Finding[]): string {
  const of = (s: Finding['severity']): number => countOf(findings.filter((f) => f.severity === s));
  const parts = [
    [of('error'), 'to fix'],
    [of('warning'), 'to look at'],
    [of('note'), 'for information'],
  ] as const;
  return parts.flatMap(([count, words]) => (count > 0 ? [`${count} ${words}`] : [])).join(' · ') || 'none';
}

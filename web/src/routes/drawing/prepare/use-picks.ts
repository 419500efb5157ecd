import { useEffect, useState } from 'react';
import type { PlannedStep } from '@scalaria/core';
import { stepById } from '@scalaria/core';
import { useDrawing } from '../drawing-context';

/** All that is picked for a step: by itself, and in its selections. */
export const pickedIn = (step: PlannedStep): string[] =>
  Object.entries(stepById(step.step)?.params ?? {}).flatMap(([name, one]) => {
    const value = step.params[name];
    if (one.kind === 'picked' && Array.isArray(value)) return value as string[];
    if (one.kind !== 'selection' || value === null || typeof value !== 'object') return [];
    const { only = [], inside = [] } = value as { only?: string[]; inside?: string[] };
    return [...only, ...inside];
  });

/** What is picked, in words, by reference: asked anew whenever the drawing is another, so that it is told after a reload too. */
export function usePickedWords(steps: readonly PlannedStep[], shown: unknown): Record<string, string> {
  const { worker } = useDrawing();
  const [words, setWords] = useState<Record<string, string>>({});
  const refs = JSON.stringify([...new Set(steps.flatMap(pickedIn))]);
  useEffect(() => {
    const list = JSON.parse(refs) as string[];
    if (!worker || !shown || list.length === 0) return;
    let live = true;
    worker.wordsOf(list).then(
      (told) =>
        live && setWords(Object.fromEntries(list.map((ref, i) => [ref, told[i] ?? 'not found in this drawing']))),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [refs, worker, shown]);
  return words;
}

/** A parameter with one thing more picked for it; the newest alone where one is all it takes. `name` may lead into a selection. */
export function withPick(planned: PlannedStep, name: string, ref: string): PlannedStep {
  const [outer, inner] = name.split('.') as [string, string | undefined];
  const asked = stepById(planned.step)?.params[outer];
  if (inner !== undefined) {
    const value = (planned.params[outer] ?? asked?.default) as Record<string, string[]>;
    const list = inner === 'inside' ? [ref] : [...(value[inner] ?? []).filter((r) => r !== ref), ref];
    return { ...planned, params: { ...planned.params, [outer]: { ...value, [inner]: list } } };
  }
  const before = planned.params[outer];
  const most = asked?.kind === 'picked' ? asked.atMost : 1;
  const list = most === 1 || !Array.isArray(before) ? [] : (before as string[]).filter((r) => r !== ref);
  return { ...planned, params: { ...planned.params, [outer]: [...list, ref].slice(-most) } };
}

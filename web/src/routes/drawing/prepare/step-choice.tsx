import { useMemo, useState } from 'react';
import { STEPS, STEP_GROUPS } from '@scalaria/core';
import { Button } from '../../../parts/button';
import { TextField } from '../../../parts/field';
import { StepPicture, useExamples } from './step-picture';

/** Whether all words of a search stand in a step's title, sentence or group. */
const fits = (search: string, ...texts: string[]): boolean => {
  const all = texts.join(' ').toLowerCase();
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => all.includes(word));
};

/** All steps, grouped by what one wants to do, each with its sentence and what it does in a picture. */
export function StepChoice({ onChoose, onLeave }: { onChoose: (id: string) => void; onLeave: () => void }) {
  const [search, setSearch] = useState('');
  const examples = useExamples();
  const groups = useMemo(
    () =>
      Object.entries(STEP_GROUPS).map(([group, words]) => ({
        group,
        words,
        steps: STEPS.filter((s) => s.group === group && fits(search, s.title, s.summary, words)),
      })),
    [search],
  );
  const found = groups.filter((g) => g.steps.length > 0);
  return (
    <section
      aria-label="Steps to choose from"
      className="border-b border-rule px-4 py-3"
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.stopPropagation();
        onLeave();
      }}
    >
      <div className="mb-2 flex items-end justify-between gap-3">
        <TextField label="Find a step" value={search} width="w-48" live focused onChange={setSearch} />
        <Button look="quiet" onClick={onLeave}>
          Leave
        </Button>
      </div>
      {found.length === 0 && <p className="text-quiet">No step says that. Other words may find it.</p>}
      {found.map(({ group, words, steps }) => (
        <section key={group} aria-label={words} className="mt-3">
          <h3 className="mb-1 text-sm font-semibold">{words}</h3>
          <ul className="space-y-1">
            {steps.map((s) => (
              <li key={s.id}>
                <button
                  type="button"
                  className="flex w-full flex-col gap-1 border border-rule px-2 py-1.5 text-left hover:border-ink hover:bg-wash"
                  onClick={() => onChoose(s.id)}
                >
                  <span className="flex w-full items-center justify-between gap-2">
                    <span className="font-medium">{s.title}</span>
                    <StepPicture of={examples?.[s.id]} title={s.title} />
                  </span>
                  <span className="text-xs text-quiet">{s.summary}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </section>
  );
}

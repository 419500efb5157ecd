import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import type { CarryOverSummary } from '@scalaria/core';
import { CARRY_OVERS } from '@scalaria/core';
import { STATE_WORDS, StateBar } from './state-bar';

/**
 * The eight carry-overs of the drawing at hand, always in sight. Each tells its reasons when asked. `waiting` says what is still
 * to come where not all is known yet.
 */
export function CarryOverStrip({
  strip,
  waiting = null,
}: {
  strip: readonly CarryOverSummary[] | null;
  waiting?: string | null;
}) {
  const cells = 'grid shrink-0 grid-cols-8 border-b border-rule max-lg:grid-cols-4 max-sm:grid-cols-2';
  if (!strip)
    return (
      <ul className={cells} aria-label="Carry-overs" aria-busy>
        {CARRY_OVERS.map((c) => (
          <li key={c} className="h-[46px] border-r border-rule px-2.5 py-1.5 last:border-r-0">
            <span className="block text-[13px] leading-tight font-medium first-letter:uppercase">{c}</span>
            <span className="block truncate text-xs text-quiet">{waiting ?? 'being read …'}</span>
          </li>
        ))}
      </ul>
    );
  return (
    <ul className={cells} aria-label="Carry-overs" aria-busy={waiting !== null} data-testid="strip">
      {strip.map((c) => (
        <li
          key={c.carryOver}
          className="h-[46px] border-r border-rule last:border-r-0"
          data-state={c.state}
          data-carry-over={c.carryOver}
        >
          <Popover className="relative h-full">
            <PopoverButton className="flex h-full w-full flex-col items-start justify-center gap-0.5 px-2.5 text-left hover:bg-wash">
              <span className="flex w-full items-center justify-between gap-2">
                <span className="text-[13px] leading-none font-medium first-letter:uppercase">{c.carryOver}</span>
                <StateBar state={c.state} width={36} />
              </span>
              <span
                className={`w-full truncate text-xs leading-tight ${c.state === 'atRisk' || c.state === 'lost' ? 'text-alarm' : 'text-quiet'}`}
              >
                {STATE_WORDS[c.state]}
                {waiting && ' so far'}
              </span>
            </PopoverButton>
            <PopoverPanel
              anchor={{ to: 'bottom start', gap: 4 }}
              className="z-30 w-80 max-w-[90vw] border border-ink bg-paper p-3 text-sm shadow-sm"
            >
              <p className="mb-1 font-medium first-letter:uppercase">
                {c.carryOver}: {STATE_WORDS[c.state]}
              </p>
              {c.reasons.length === 0 ? (
                <p className="text-quiet">{waiting ? `Nothing known yet: ${waiting}` : 'Unchanged so far.'}</p>
              ) : (
                <ul className="list-disc space-y-1 pl-4">
                  {c.reasons.map((r) => (
                    <li key={r}>{r}</li>
                  ))}
                </ul>
              )}
            </PopoverPanel>
          </Popover>
        </li>
      ))}
    </ul>
  );
}

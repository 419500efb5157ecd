import type { Finding } from '@scalaria/core';
import { CHECKS } from '@scalaria/core';
import { Button } from '../../parts/button';
import { LongList } from '../../parts/long-list';
import { plainNumber } from '../../parts/numbers';

/** What was set aside, with the word why: each can be brought back. Those that no check finds any more are said to be gone. */
export function SetAside({
  aside,
  found,
  onBack,
}: {
  /** Why, by the key of a finding or of a whole check. */
  aside: Readonly<Record<string, string>>;
  /** What was found of it. */
  found: ReadonlyMap<string, readonly Finding[]>;
  onBack: (key: string) => void;
}) {
  const keys = Object.keys(aside);
  if (keys.length === 0) return null;
  const nameOf = (key: string): string => {
    const [check = '', ...rest] = key.split('|');
    const title = CHECKS.find((c) => c.id === check)?.title ?? check;
    return rest[0] === '*' ? `${title}: all` : rest.slice(2).join('|') || title;
  };
  return (
    <section aria-label="Set aside" className="border-b border-rule px-4 py-3">
      <h2 className="text-[15px] font-semibold">Set aside</h2>
      <LongList
        label="Set aside"
        rows={keys}
        keyOf={(k) => k}
        height={52}
        rowClass="border-t border-rule first:border-t-0"
      >
        {(key) => {
          const n = (found.get(key) ?? []).length;
          return (
            <div className="flex items-start gap-2 py-1 text-sm">
              <span className="min-w-0 flex-1">
                <span className="block truncate" title={nameOf(key)}>
                  {nameOf(key)}
                </span>
                <span className="block text-xs text-quiet">
                  {aside[key]}
                  {n === 0 ? ' · not found any more' : n > 1 ? ` · ${plainNumber(n)} findings` : ''}
                </span>
              </span>
              <Button look="quiet" onClick={() => onBack(key)} aria-label={`Bring back: ${nameOf(key)}`}>
                Bring back
              </Button>
            </div>
          );
        }}
      </LongList>
    </section>
  );
}

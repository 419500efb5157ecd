import { useState } from 'react';
import type { Trial } from '@scalaria/core';
import { TRIAL_PICTURE } from '@scalaria/core';

const [WIDTH, HEIGHT] = TRIAL_PICTURE;
const address = (svg: string): string => `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;

/** Two files at one scale, wiped against each other; what one click selects at the receiver is marked under the pointer. */
export function Wiped({ left, right, names }: { left: Trial; right: Trial | null; names: readonly [string, string] }) {
  const [at, setAt] = useState(0.5);
  const [pointed, setPointed] = useState<{ side: 0 | 1; index: number } | null>(null);
  const edge = right ? at * WIDTH : WIDTH;
  const sides = [left, ...(right ? [right] : [])];
  const clip = (side: number): string =>
    side === 0
      ? `inset(0 ${(100 * (1 - edge / WIDTH)).toFixed(3)}% 0 0)`
      : `inset(0 0 0 ${((100 * edge) / WIDTH).toFixed(3)}%)`;
  const words = pointed ? sides[pointed.side]?.clicks[pointed.index]?.words : null;
  return (
    <figure className="flex h-full min-h-0 flex-col">
      <div className="relative mx-auto min-h-0 w-full flex-1">
        {sides.map((trial, side) => (
          <div key={side} className="absolute inset-0" style={{ clipPath: clip(side) }}>
            <img
              src={address(trial.svg)}
              alt={`As ${names[side]} has it`}
              className="absolute inset-0 size-full object-contain"
            />
            <svg
              viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
              className="absolute inset-0 size-full"
              role="img"
              aria-label={`What one click selects in ${names[side]}: ${trial.clicks.length} things`}
            >
              {trial.clicks.map((c, i) => (
                <path
                  key={i}
                  d={c.d}
                  fill="none"
                  strokeWidth={7}
                  className={
                    pointed?.side === side && pointed.index === i
                      ? 'stroke-act/60'
                      : 'stroke-transparent [pointer-events:stroke]'
                  }
                  onPointerEnter={() => setPointed({ side: side as 0 | 1, index: i })}
                  onPointerLeave={() => setPointed(null)}
                />
              ))}
            </svg>
          </div>
        ))}
        {right && (
          <span
            className="pointer-events-none absolute inset-y-0 border-l border-ink"
            style={{ left: `${100 * at}%` }}
            aria-hidden
          />
        )}
      </div>
      <figcaption className="flex items-center gap-3 border-t border-rule bg-paper px-3 py-1 text-xs">
        <span className="min-w-0 flex-1 truncate">{names[0]}</span>
        {right && (
          <input
            type="range"
            min={0}
            max={1}
            step={0.005}
            value={at}
            aria-label={`Where ${names[0]} and ${names[1]} meet`}
            className="w-64 accent-[var(--ink)]"
            onChange={(e) => setAt(Number(e.target.value))}
          />
        )}
        <span className="min-w-0 flex-1 truncate text-right">{right && names[1]}</span>
      </figcaption>
      <p className="h-6 truncate border-t border-rule bg-paper px-3 text-xs leading-6" role="status">
        {words ? (
          `One click selects: ${words}`
        ) : (
          <span className="text-quiet">Point at a line: what one click selects is marked.</span>
        )}
      </p>
    </figure>
  );
}

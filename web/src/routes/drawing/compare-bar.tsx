import { useEffect, useState } from 'react';
import type { Scene } from '@scalaria/core';
import type { Picture } from '../../viewport/renderer';

/** How what was prepared and what was delivered are held against each other. */
export type Compare = 'over' | 'wipe' | 'blink' | 'beside' | 'differing' | 'prepared' | 'delivered';

/** The scenes to draw for a way of comparing; `first` is which of both a blink shows now. */
export function compared(
  prepared: Scene | null,
  delivered: Scene | null,
  how: Compare,
  first: boolean,
  differing: { gone: Scene; added: Scene } | null = null,
): Picture[] {
  if (!prepared) return [];
  const [a, b] = [{ scene: prepared }, delivered && { scene: delivered }];
  if (!b || how === 'prepared') return [a];
  if (how === 'delivered') return [b];
  if (how === 'differing')
    return [
      // Nothing of it is drawn: what is looked at stays where it was.
      { scene: { ...prepared, layers: [], pictures: [] } },
      ...(differing
        ? [
            { scene: differing.gone, tint: 'first' as const },
            { scene: differing.added, tint: 'second' as const },
          ]
        : []),
    ];
  if (how === 'blink') return first ? [a] : [b];
  if (how === 'wipe')
    return [
      { ...a, side: 'left' },
      { ...b, side: 'right' },
    ];
  return [
    { ...a, tint: 'first' as const },
    { ...b, tint: 'second' as const },
  ];
}

const COMPARISONS: [Compare, string][] = [
  ['over', 'Overlay'],
  ['wipe', 'Wipe'],
  ['blink', 'Blink'],
  ['differing', 'Differences'],
  ['prepared', 'Prepared'],
  ['delivered', 'Delivered'],
];

/** Both sides where a step is tried. */
export const BEFORE_AFTER: [Compare, string][] = [
  ['over', 'Overlay'],
  ['wipe', 'Wipe'],
  ['blink', 'Blink'],
  ['beside', 'Side by side'],
  ['prepared', 'Before'],
  ['delivered', 'After'],
];

/** Where a step traced a picture, what differs from it has a view of its own. */
export const TRACED: [Compare, string][] = [...BEFORE_AFTER, ['differing', 'Differences']];

/** What is left between two drawings side by side, as a part of them. */
const BETWEEN = 0.06;
/** A drawing so much wider than high has its other side below it. */
const WIDE = 1.4;

/** How far the second of two drawings lies from the first where they are shown side by side, to the right of it or below. */
export function besideBy(bounds: Scene['bounds']): readonly [number, number] {
  if (!bounds) return [0, 0];
  const [w, h] = [bounds.maxX - bounds.minX, bounds.maxY - bounds.minY];
  return w > WIDE * h ? [0, -(1 + BETWEEN) * h] : [(1 + BETWEEN) * w, 0];
}

/** The box of both sides. */
export function besideBox(bounds: NonNullable<Scene['bounds']>): NonNullable<Scene['bounds']> {
  const [x, y] = besideBy(bounds);
  return { minX: bounds.minX, minY: bounds.minY + y, maxX: bounds.maxX + x, maxY: bounds.maxY };
}

function moved(scene: Scene, [x, y]: readonly [number, number]): Picture {
  return { scene: { ...scene, origin: [scene.origin[0] + x, scene.origin[1] + y] } };
}

/**
 * The scenes to draw of a drawing before a step and after it: what stays, and what is otherwise, as it was and as it would be; and what differs of
 * pictures that were traced.
 */
export function comparedParts(
  parts: { same: Scene; old: Scene; now: Scene },
  how: Compare,
  first: boolean,
  differing: Scene | null = null,
): Picture[] {
  const [same, old, now] = [{ scene: parts.same }, { scene: parts.old }, { scene: parts.now }];
  if (how === 'differing')
    return [{ scene: { ...parts.same, layers: [], pictures: [] } }, ...(differing ? [{ scene: differing }] : [])];
  if (how === 'beside') {
    const by = besideBy(parts.same.bounds);
    return [same, old, moved(parts.same, by), moved(parts.now, by)];
  }
  if (how === 'prepared' || (how === 'blink' && first)) return [same, old];
  if (how === 'delivered' || how === 'blink') return [same, now];
  if (how === 'wipe') return [same, { ...old, side: 'left' }, { ...now, side: 'right' }];
  return [same, { ...old, tint: 'first' as const }, { ...now, tint: 'second' as const }];
}

/** Turns between two things about twice in three seconds while it is asked to. */
export function useBlink(on: boolean): boolean {
  const [first, setFirst] = useState(true);
  useEffect(() => {
    if (!on) return;
    const turn = setInterval(() => setFirst((f) => !f), 700);
    return () => clearInterval(turn);
  }, [on]);
  return first;
}

/** The choice of how to compare, over the drawing. */
export function CompareBar({
  compare,
  onCompare,
  wipe,
  onWipe,
  said = null,
  differs = false,
  ways = COMPARISONS,
  sides = ['prepared', 'delivered'],
}: {
  compare: Compare;
  onCompare: (c: Compare) => void;
  wipe: number;
  onWipe: (w: number) => void;
  /** What differs, in words, where only that is shown. */
  said?: string | null;
  differs?: boolean;
  ways?: readonly (readonly [Compare, string])[];
  /** What both are called. */
  sides?: readonly [string, string];
}) {
  return (
    <div className="absolute inset-x-3 top-3 flex flex-wrap items-center gap-x-4 gap-y-1">
      <div className="flex flex-wrap border border-ink bg-paper" role="radiogroup" aria-label="How to compare">
        {ways.map(([c, words]) => (
          <label
            key={c}
            className={`cursor-pointer border-r border-ink px-2.5 py-0.5 text-sm last:border-r-0 has-focus-visible:outline-2 has-focus-visible:outline-act ${compare === c ? 'bg-ink text-paper' : 'hover:bg-wash'}`}
          >
            <input
              type="radio"
              name="compare"
              className="sr-only"
              checked={compare === c}
              onChange={() => onCompare(c)}
            />
            {words}
          </label>
        ))}
      </div>
      {compare === 'wipe' && (
        <input
          type="range"
          min={0}
          max={1}
          step={0.005}
          value={wipe}
          aria-label={`Where ${sides[0]} and ${sides[1]} meet`}
          className="flex-1 accent-[var(--ink)]"
          onChange={(e) => onWipe(Number(e.target.value))}
        />
      )}
      {compare === 'differing' && said && (
        <p className="border border-rule bg-paper px-2 text-xs" role="status">
          {said}
        </p>
      )}
      {(compare === 'over' || (compare === 'differing' && differs)) && (
        <p className="flex items-center gap-3 bg-sheet/85 px-2 text-xs">
          <span className="flex items-center gap-1.5">
            <span className="h-[3px] w-5 bg-first" aria-hidden /> {sides[0]}
          </span>
          <span className="flex items-center gap-1.5">
            <span className="h-[3px] w-5 bg-second" aria-hidden /> {sides[1]}
          </span>
        </p>
      )}
    </div>
  );
}

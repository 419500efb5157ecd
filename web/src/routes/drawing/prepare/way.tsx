import { useEffect, useMemo, useState } from 'react';
import { Pause, Play } from 'lucide-react';
import type { StepList } from '@scalaria/core';
import { Button } from '../../../parts/button';
import { plainNumber } from '../../../parts/numbers';
import type { Marked } from '../../../viewport/viewport';

/** A way is played in so many pictures at most, this long each, in ms. */
const PICTURES = 300;
const EACH = 90;
/** Numbers stand so far apart at least, in pixels. */
const APART = 20;
/** So many numbers are shown at once. */
const MOST = 400;

export type Way = NonNullable<StepList['way']>;

export interface ShownWay {
  way: Way;
  /** So many of its stretches are shown. */
  upTo: number;
}

/** A way through a drawing: how much of it is shown, and playing it. `null` where there is none. */
export function useWay(lists: readonly StepList[] | undefined) {
  const way = lists?.find((l) => l.way)?.way ?? null;
  const count = way ? way.stops.length / 4 : 0;
  const [at, setAt] = useState<number | null>(null);
  const [playing, setPlaying] = useState(false);
  // Another way is shown whole first.
  useEffect(() => {
    setAt(null);
    setPlaying(false);
  }, [way]);
  useEffect(() => {
    if (!playing) return;
    const by = Math.max(1, Math.ceil(count / PICTURES));
    const turn = setInterval(() => setAt((n) => (n === null || n + by >= count ? null : n + by)), EACH);
    return () => clearInterval(turn);
  }, [playing, count]);
  // Shown whole it has come to its end.
  useEffect(() => {
    if (at === null) setPlaying(false);
  }, [at]);
  const upTo = at ?? count;
  const shown = useMemo<ShownWay | null>(() => (way && count > 0 ? { way, upTo } : null), [way, count, upTo]);
  const play = (): void => {
    if (!playing && at === null) setAt(0);
    setPlaying(!playing);
  };
  return { shown, count, upTo, playing, play, setAt };
}

/** Plays a way, or shows it up to a stretch of it. */
export function WayPlayer({ of }: { of: ReturnType<typeof useWay> }) {
  const { count, upTo, playing, play, setAt } = of;
  if (!of.shown) return null;
  return (
    <div className="mt-2 border-t border-rule pt-2" data-testid="way">
      <label className="block text-xs text-quiet" htmlFor="way">
        Way of the head in the picture
      </label>
      <span className="flex items-center gap-2">
        <Button aria-pressed={playing} onClick={play}>
          {playing ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
          {playing ? 'Pause' : 'Play'}
        </Button>
        <input
          id="way"
          type="range"
          min={0}
          max={count}
          value={upTo}
          className="min-w-0 flex-1 accent-[var(--ink)]"
          onChange={(e) => setAt(Number(e.target.value))}
        />
      </span>
      <span className="num text-sm" role="status">
        {plainNumber(upTo)} of {plainNumber(count)} cuts
      </span>
    </div>
  );
}

/** The way over the picture: between cuts a dashed line, at each start its number where there is room, the head where it is. */
export function WayMarks({ m, shown }: { m: Marked; shown: ShownWay }) {
  const { way, upTo } = shown;
  const { stops, from } = way;
  const [hx, hy] = m.screen(from[0], from[1]);
  const legs: string[] = [];
  const numbers: { n: number; x: number; y: number }[] = [];
  const taken = new Set<string>();
  let [x, y] = [hx, hy];
  for (let i = 0; i < upTo; i++) {
    const [sx, sy] = m.screen(stops[4 * i]!, stops[4 * i + 1]!);
    legs.push(`M${x.toFixed(1)} ${y.toFixed(1)}L${sx.toFixed(1)} ${sy.toFixed(1)}`);
    const isIn = sx >= 0 && sy >= 0 && sx <= m.size.width && sy <= m.size.height;
    const cell = `${Math.round(sx / APART)} ${Math.round(sy / APART)}`;
    if (isIn && numbers.length < MOST && !taken.has(cell)) {
      taken.add(cell);
      numbers.push({ n: i + 1, x: sx, y: sy });
    }
    [x, y] = m.screen(stops[4 * i + 2]!, stops[4 * i + 3]!);
  }
  return (
    <g data-testid="way-marks">
      <path d={legs.join('')} fill="none" stroke="var(--second)" strokeWidth="1.2" strokeDasharray="5 3" />
      {numbers.map(({ n, x: nx, y: ny }) => (
        <g key={n} transform={`translate(${nx} ${ny})`}>
          <circle r="2.5" fill="var(--second)" />
          <text
            x="4"
            y="-4"
            fontSize="11"
            fill="var(--ink)"
            stroke="var(--sheet)"
            strokeWidth="3"
            paintOrder="stroke"
            className="num"
          >
            {n}
          </text>
        </g>
      ))}
      <path d={`M${x - 6} ${y}H${x + 6}M${x} ${y - 6}V${y + 6}`} stroke="var(--ink)" strokeWidth="1.5" />
      <circle cx={x} cy={y} r="4" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
    </g>
  );
}

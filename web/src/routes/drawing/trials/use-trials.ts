import { useEffect, useRef, useState } from 'react';
import type { Target } from '@scalaria/core';
import { DEFAULT_TARGETS, FORMAT_CATALOGUE, canonicalText, fewestLosses, targetFor, traitsOf } from '@scalaria/core';
import { sendJson } from '../../../api/client';
import { paths } from '../../../api/paths';
import type { TrialView } from '../../../api/types';

/** A way of writing that is tried. */
export interface Way {
  id: string;
  target: Target;
}

/** What came of one. */
export type Outcome =
  { state: 'waiting' | 'running' } | { state: 'done'; view: TrialView } | { state: 'failed'; why: string };

export const MOST_WAYS = 8;

/** The ways that one begins with: what is kept for this drawing, and what is written from drawings like it otherwise. */
export function firstWays(own: Target | null, format: Parameters<typeof traitsOf>[0]): Way[] {
  const others: Target[] =
    traitsOf(format).family === 'artwork'
      ? [
          targetFor('dxf', { options: { curves: 'arcs' } }),
          targetFor('dxf', { options: { curves: 'pieces', text: 'outlines' } }),
          targetFor('dxf', { version: 'R12', options: { curves: 'arcs' } }),
        ]
      : [DEFAULT_TARGETS.svg, targetFor('svg', { options: { text: 'outlines' } }), DEFAULT_TARGETS.dxf];
  const all = own ? [{ ...own }, ...others] : others;
  const seen = new Set<string>();
  return all
    .filter((t) => {
      const { name: _n, parts: _p, ...rest } = t;
      const key = canonicalText(rest);
      return !seen.has(key) && seen.add(key);
    })
    .map((target) => ({ id: crypto.randomUUID(), target }));
}

/** A way in a few words: format, version, and what is otherwise than by itself. */
export function wayWords({ format, version, unit, options }: Target): string {
  const { title, options: params } = FORMAT_CATALOGUE[format];
  const said = Object.entries(options).flatMap(([name, value]) => {
    const p = params[name as keyof typeof params] as
      { default: unknown; kind: string; title: string; choices?: Record<string, string> } | undefined;
    if (!p || canonicalText([value]) === canonicalText([p.default])) return [];
    if (p.kind === 'choice') {
      // What a long title asks, its answer says by itself.
      const answer = p.choices![String(value)]!;
      return [p.title.length > 12 ? answer : `${p.title.toLowerCase()} ${answer}`];
    }
    return [
      p.kind === 'yesNo'
        ? p.title.toLowerCase()
        : `${p.title.toLowerCase()} ${typeof value === 'object' ? 'set' : String(value)}`,
    ];
  });
  return [`${title} ${version}`, unit ?? '', ...said].filter(Boolean).join(', ');
}

/** Tries ways one after the other; one that changes is tried anew, and what was tried so before is known. */
export function useTrials(drawing: string, ways: readonly Way[], ready: boolean, key: string) {
  const known = useRef(new Map<string, Outcome>());
  const [turn, setTurn] = useState(0);
  const [stopped, setStopped] = useState(false);
  const keyOf = (w: Way): string => canonicalText([key, w.target]);
  const running = useRef<{ key: string; stop: AbortController } | null>(null);
  const asked = ways.map(keyOf).join('\n');
  useEffect(() => {
    // What nobody asks for any more is not waited for.
    if (running.current && !asked.split('\n').includes(running.current.key)) running.current.stop.abort();
    if (!ready || stopped || running.current) return;
    const next = ways.find((w) => !known.current.has(keyOf(w)));
    if (!next) return;
    const own = { key: keyOf(next), stop: new AbortController() };
    running.current = own;
    known.current.set(own.key, { state: 'running' });
    const { name: _n, parts: _p, ...target } = next.target;
    sendJson<TrialView>('POST', paths.trial(drawing), target, own.stop.signal)
      .then(
        (view) => void known.current.set(own.key, { state: 'done', view }),
        (e: unknown) => {
          if (own.stop.signal.aborted) known.current.delete(own.key);
          else known.current.set(own.key, { state: 'failed', why: (e as Error).message });
        },
      )
      .finally(() => {
        running.current = null;
        setTurn((n) => n + 1);
      });
    setTurn((n) => n + 1);
    // What is asked is said by the keys of the ways.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [asked, ready, stopped, turn, drawing]);
  useEffect(
    () => () => {
      running.current?.stop.abort();
      running.current = null;
    },
    [],
  );
  const outcomes = ways.map((way) => ({
    way,
    outcome: known.current.get(keyOf(way)) ?? ({ state: 'waiting' } as Outcome),
  }));
  const figures = (o: Outcome) => (o.state === 'done' ? o.view.figures : null);
  const sorted = [...outcomes].sort((a, b) => {
    const [x, y] = [figures(a.outcome), figures(b.outcome)];
    return x && y ? fewestLosses(x, y) : Number(y !== null) - Number(x !== null);
  });
  return {
    outcomes: sorted,
    busy: ready && outcomes.some((o) => o.outcome.state === 'running' || (o.outcome.state === 'waiting' && !stopped)),
    stopped,
    stop: () => {
      running.current?.stop.abort();
      setStopped(true);
    },
    again: () => setStopped(false),
  };
}

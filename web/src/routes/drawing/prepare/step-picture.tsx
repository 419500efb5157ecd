import { useContext } from 'react';
import { onNight } from '@scalaria/core';
import useSWR from 'swr';
import { GroundName } from '../../../parts/ground';
import { useDrawing } from '../drawing-context';

export type Examples = Record<string, { before: string; after: string }>;

/** Pictures of what each step does, drawn once by the worker. */
export function useExamples(): Examples | undefined {
  const { free } = useDrawing();
  const { data } = useSWR<Examples>(free ? 'step examples' : null, () => free!.examples(), {
    revalidateOnFocus: false,
    revalidateIfStale: false,
  });
  return data;
}

/** Before and after a step, side by side at one scale. */
export function StepPicture({ of, title }: { of: { before: string; after: string } | undefined; title: string }) {
  const night = useContext(GroundName) === 'night';
  const src = (svg: string): string =>
    `data:image/svg+xml;charset=utf-8,${encodeURIComponent(night ? onNight(svg) : svg)}`;
  return (
    <span className="flex shrink-0 items-center" role="img" aria-label={`${title}: before and after`}>
      {of ? (
        <>
          <img src={src(of.before)} alt="" className="h-9 w-[63px] border border-rule bg-sheet" />
          <span aria-hidden className="px-0.5 text-[10px] text-quiet">
            ▶
          </span>
          <img src={src(of.after)} alt="" className="h-9 w-[63px] border border-rule bg-sheet" />
        </>
      ) : (
        <span className="h-9 w-[138px] bg-wash" />
      )}
    </span>
  );
}

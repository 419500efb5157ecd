import { useCallback, useEffect, useState } from 'react';
import * as Comlink from 'comlink';
import type { Target } from '@scalaria/core';
import { getBytes, sendJson } from '../../api/client';
import { useJob } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { Forecast } from '../../workers/forecasting';
import { useDrawing } from './drawing-context';

/** How long a choice has to stand before it is looked ahead for, in ms. */
const STANDING = 400;

export interface Looked {
  forecast: Forecast | null;
  /** Why it cannot be written, in a sentence. */
  fault: string | null;
  /** Being looked ahead for. */
  busy: boolean;
  /** The drawing is large: it is looked ahead for when this is called; `null` where it is done unasked. */
  ask: (() => void) | null;
  /** Ends looking ahead; `null` where it ends by itself in a moment. */
  stop: (() => void) | null;
}

/** What would be lost, approximated and renamed, were the drawing written like that. `null` targets are not looked ahead for. */
export function useForecast(target: Target | null): Looked {
  const { free, drawing, fonts, pictures, references } = useDrawing();
  const { data: job } = useJob(drawing.jobId);
  const [made, setMade] = useState<{ of: string; said: Forecast | string } | null>(null);
  const [quick, setQuick] = useState<boolean | null>(null);
  const [asked, setAsked] = useState<string | null>(null);
  const of =
    target &&
    JSON.stringify([
      target,
      drawing.intake,
      drawing.steps,
      drawing.revision,
      fonts.version,
      pictures.version,
      references.version,
    ]);
  useEffect(() => {
    let live = true;
    // Nothing is begun on what was known of another target.
    setQuick(null);
    if (target)
      free?.isQuick(target).then(
        (q) => live && setQuick(q),
        () => {},
      );
    return () => {
      live = false;
    };
    // `of` stands for the target, the decisions, the steps, and what the job gives.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [free, of]);
  const wanted = free !== null && of !== null && made?.of !== of && (quick === true || asked === of);
  const templateId = target?.options['template'];
  const template = job?.drawings.find((d) => d.id === templateId);
  useEffect(() => {
    if (!wanted || !free || !target || !of) return;
    let live = true;
    const controller = new AbortController();
    // A large drawing is looked ahead for on the server: it can be stopped there, and the page's worker stays free.
    const far = (): Promise<Forecast> =>
      sendJson<Forecast>('POST', paths.forecast(drawing.id), target, controller.signal);
    const look = async (): Promise<void> => {
      const like = quick === true &&
        template && { bytes: await getBytes(paths.drawingSource(template.id)), name: template.name };
      if (!live) return;
      // Which parts go into a file, and whether all have a number, is known to the server alone.
      const isFar = quick !== true || target.parts !== undefined || target.numbered === true;
      const said = !isFar
        ? await free.forecast(
            drawing.intake,
            drawing.steps,
            target,
            like ? Comlink.transfer(like, [like.bytes]) : undefined,
          )
        : await far();
      if (live) setMade({ of, said });
    };
    const timer = setTimeout(
      () => {
        look().catch((e: unknown) => live && setMade({ of, said: e instanceof Error ? e.message : String(e) }));
      },
      quick === true ? STANDING : 0,
    );
    return () => {
      live = false;
      clearTimeout(timer);
      controller.abort();
    };
    // `of` stands for the target, the decisions, the steps, and what the job gives.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, free, of, template?.id]);
  const ask = useCallback(() => setAsked(of), [of]);
  const stop = useCallback(() => setAsked(null), []);
  const said = made?.of === of ? made?.said : undefined;
  return {
    forecast: typeof said === 'object' ? said : null,
    fault: typeof said === 'string' ? said : null,
    busy: wanted,
    ask: quick === false && said === undefined && !wanted ? ask : null,
    stop: wanted && quick === false ? stop : null,
  };
}

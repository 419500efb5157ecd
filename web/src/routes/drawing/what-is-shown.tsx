import { useEffect, useState } from 'react';
import type { ParameterSet, PictureFrame, Target, UnitName } from '@scalaria/core';
import { FORMAT_CATALOGUE, counts, traitsOf } from '@scalaria/core';
import { Button } from '../../parts/button';
import { useDrawing } from './drawing-context';
import type { Sight, Tools } from './view/use-tools';

/** Room that an open picture takes, in bytes to a pixel. */
const OPEN = 4;
const megabytes = (bytes: number): string =>
  bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1e3))} kB`;

/**
 * What of the drawing a picture or a page shows, by what is in sight or in a frame; and what a picture would be, foretold: its pixels, the room it takes open, and as a file
 * once that was looked ahead for.
 */
export function WhatIsShown({
  target,
  bytes,
  unit,
  tools,
  ready,
  onChange,
}: {
  target: Target;
  bytes: number | null;
  /** The unit of the drawing in sight. */
  unit: string | null;
  tools: Tools;
  /** The prepared drawing is there to be asked about. */
  ready: boolean;
  onChange: (target: Target) => void;
}) {
  const { free, drawing } = useDrawing();
  const [frame, setFrame] = useState<PictureFrame | string | null>(null);
  const pixels = traitsOf(target.format).pixels === true;
  const asked = JSON.stringify([target, drawing.intake, drawing.steps, drawing.revision]);
  useEffect(() => {
    if (!pixels || !ready) return;
    let live = true;
    free?.pictureFrame(target).then(
      (f) => live && setFrame(f),
      () => {},
    );
    return () => {
      live = false;
    };
    // `asked` stands for the target and the drawing.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [free, asked, pixels, ready]);
  // What says which part is shown, where the format has such and it counts now.
  const { options } = FORMAT_CATALOGUE[target.format];
  const valueOf = (name: string): unknown => target.options[name] ?? (options as ParameterSet)[name]?.default;
  const which = ['shows', 'part'].find((name) => name in options && counts((options as ParameterSet)[name]!, valueOf));
  if (!which) return null;
  const show = (s: Sight): void => {
    const length = (value: number): number | { value: number; unit: UnitName } =>
      unit === null ? value : { value, unit: unit as UnitName };
    const corner = { x: length(s.minX), y: length(s.minY) };
    const opposite = { x: length(s.maxX), y: length(s.maxY) };
    onChange({ ...target, options: { ...target.options, [which]: 'box', corner, opposite } });
  };
  const framing = tools.tool === 'ask' && tools.asked?.onFrame !== undefined;
  const drag = (): void =>
    framing
      ? tools.ask(null)
      : tools.ask({
          words: 'Drag a frame around what the file shows.',
          onFrame: (minX, minY, maxX, maxY) => {
            show({ minX, minY, maxX, maxY });
            tools.ask(null);
          },
        });
  return (
    <div className="mt-3">
      <div className="mb-1 flex gap-4 text-sm">
        <Button look="quiet" onClick={() => tools.sight.current && show(tools.sight.current)}>
          Show what is in sight
        </Button>
        <Button look="quiet" onClick={drag}>
          {framing ? 'Stop' : 'Drag a frame'}
        </Button>
      </div>
      <p className="text-sm" data-testid="picture-size" aria-live="polite">
        {!pixels ? null : typeof frame === 'string' ? (
          <span className="text-alarm">{frame}</span>
        ) : frame ? (
          <>
            {frame.width} × {frame.height} pixels, {((frame.width * frame.height) / 1e6).toFixed(1)} million
            <span className="text-quiet">
              ; {megabytes(OPEN * frame.width * frame.height)} open{bytes !== null && `, ${megabytes(bytes)} as a file`}
            </span>
          </>
        ) : null}
      </p>
    </div>
  );
}

import type { ReactNode } from 'react';
import { useCallback, useMemo } from 'react';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { Scene } from '@scalaria/core';
import { Tick } from '../../../parts/field';
import { INK_WORDS, useViewSettings } from '../../../viewport/view-settings';
import { INKS } from '../../../viewport/shaders';
import type { Picture } from '../../../viewport/renderer';
import type { Marked, Stays } from '../../../viewport/viewport';
import { Viewport } from '../../../viewport/viewport';
import { useDrawing } from '../drawing-context';
import { MeasureMarks, SnapMark } from './marks';
import type { Tool, Tools } from './use-tools';

const NAMES: readonly (readonly [Tool, string, string])[] = [
  ['select', 'Select', 's'],
  ['frame', 'Frame', 'f'],
  ['distance', 'Distance', 'm'],
  ['path', 'Path', 'p'],
  ['angle', 'Angle', 'a'],
  ['curve', 'Curve', 'r'],
];

/** What to do next with a tool, in words. */
function prompt({ tool, measured, asked }: Tools): string | null {
  const n = measured && !measured.done ? measured.points.length : 0;
  switch (tool) {
    case 'ask':
      return asked ? `${asked.words} Esc stops.` : null;
    case 'frame':
      return 'Drag a frame around what to select.';
    case 'distance':
      return `${n === 1 ? 'Click the second point.' : 'Click the first point.'} Esc stops.`;
    case 'angle':
      return `${['Click the corner of the angle.', 'Click a point on its first side.', 'Click a point on its second side.'][n]} Esc stops.`;
    case 'path':
      return n < 2
        ? 'Click the points of the path one by one.'
        : 'Click the next point. Esc ends the path, Backspace removes a point.';
    case 'curve':
      return 'Click a curve. Esc stops.';
    default:
      return null;
  }
}

/** The drawing with its tools: a row of words above it, marks over it. */
export function DrawingView({
  scene,
  hidden,
  unit,
  tools,
  label,
  marks,
  aside,
  unfinished = false,
  pictures: several,
  wipe,
  stays,
  over,
}: {
  /** The drawing that tools ask about, and that is shown where `pictures` are not. */
  scene: Scene | null;
  hidden?: ReadonlySet<string>;
  unit: string | null;
  tools: Tools;
  label: string;
  marks?: (m: Marked) => ReactNode;
  /** Stands at the beginning of the row. */
  aside?: ReactNode;
  unfinished?: boolean;
  /** What is shown instead, such as two drawings on each other; `wipe` is where left and right meet. */
  pictures?: readonly Picture[];
  wipe?: number;
  /** Whether the view stays where it is when a drawing of another extent is shown. */
  stays?: Stays;
  /** Stands over the drawing. */
  over?: ReactNode;
}) {
  const { worker } = useDrawing();
  const alone = useMemo(() => (scene ? [{ scene }] : []), [scene]);
  const pictures = several ?? alone;
  const onDetail = useCallback(
    (x0: number, y0: number, x1: number, y1: number, tolerance: number) =>
      worker ? worker.detail(x0, y0, x1, y1, tolerance) : Promise.resolve(null),
    [worker],
  );
  const said = prompt(tools);
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-9 shrink-0 flex-wrap items-stretch border-b border-rule bg-paper">
        {aside}
        <div role="group" aria-label="Tools" className="flex">
          {NAMES.map(([tool, words, key]) => (
            <button
              key={tool}
              type="button"
              aria-pressed={tools.tool === tool}
              title={`${words} (${key})`}
              onClick={() => tools.setTool(tools.tool === tool ? 'select' : tool)}
              className={`border-b-2 px-2.5 text-sm ${tool === 'distance' ? 'ml-2' : ''} ${tools.tool === tool ? 'border-ink font-medium' : 'border-transparent text-quiet hover:text-ink'}`}
            >
              {words}
            </button>
          ))}
        </div>
        <div className="ml-auto flex items-center gap-3 pr-2 text-sm">
          {tools.tool === 'frame' && (
            <Tick
              className="flex items-center gap-1.5"
              checked={tools.touching}
              onChange={(on) => tools.setTouching(on)}
            >
              include what it touches
            </Tick>
          )}
          {tools.hiddenIds.size > 0 && (
            <button type="button" className="text-act hover:underline" onClick={tools.showAll} title="u">
              Show {tools.hiddenIds.size} hidden
            </button>
          )}
          <ShowMenu />
        </div>
      </div>
      <div className="relative min-h-0 flex-1">
        <Viewport
          pictures={pictures}
          {...(hidden && { hidden })}
          hiddenIds={tools.hiddenIds}
          selected={tools.selected}
          unit={unit}
          marks={(m) => (
            <>
              {marks?.(m)}
              {tools.measured && <MeasureMarks m={m} measured={tools.measured} hover={tools.hover} />}
              {tools.hover && tools.tool !== 'select' && <SnapMark m={m} at={tools.hover} />}
            </>
          )}
          goTo={tools.goTo}
          {...(stays && { stays })}
          onPick={tools.onPick}
          onHover={tools.onHover}
          onFrame={tools.onFrame}
          onSight={tools.onSight}
          framing={tools.tool === 'frame' || (tools.tool === 'ask' && tools.asked?.onFrame !== undefined)}
          {...(!several && { onDetail })}
          {...(wipe !== undefined && { wipe })}
          unfinished={unfinished}
          cursor={tools.tool === 'select' ? 'grab' : 'crosshair'}
          label={label}
        />
        {over}
        {said && (
          <p
            className="pointer-events-none absolute bottom-3 left-1/2 z-10 -translate-x-1/2 border border-ink bg-paper px-3 py-1 text-sm whitespace-nowrap"
            role="status"
          >
            {said}
          </p>
        )}
      </div>
    </div>
  );
}

/** How the drawing is shown. */
function ShowMenu() {
  const { ink, weights, set } = useViewSettings();
  const row = (on: boolean, words: string, act: () => void) => (
    <MenuItem key={words}>
      <button
        type="button"
        aria-pressed={on}
        className="flex w-full items-baseline gap-2 px-3 py-1 text-left data-focus:bg-wash"
        onClick={act}
      >
        <span className={`size-2.5 shrink-0 border border-ink ${on ? 'bg-ink' : ''}`} aria-hidden />
        {words}
      </button>
    </MenuItem>
  );
  return (
    <Menu>
      <MenuButton className="border border-ink/60 px-2.5 py-0.5 text-sm hover:bg-wash">Show</MenuButton>
      <MenuItems anchor="bottom end" className="z-20 w-56 border border-ink bg-paper py-1 text-sm">
        {INKS.map((i) => row(ink === i, INK_WORDS[i], () => set({ ink: i })))}
        <div className="my-1 border-t border-rule" />
        {row(weights, 'Lines as wide as they are', () => set({ weights: !weights }))}
      </MenuItems>
    </Menu>
  );
}

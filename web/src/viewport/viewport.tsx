import type { ReactNode } from 'react';
import { useEffect, useMemo, useRef } from 'react';
import type { Scene } from '@scalaria/core';
import { useAction } from '../parts/actions';
import { highlighted } from './highlight';
import { Overlay, Unfinished, ZoomButtons } from './overlay';
import type { Picture } from './renderer';
import { ScaleBar } from './scale-bar';
import type { Goal, Stays } from './use-camera';
import { useCamera } from './use-camera';
import { useDetail } from './use-detail';
import { useDrawLoop } from './use-draw-loop';
import type { Pointing } from './use-pointer';
import { usePointer } from './use-pointer';
import type { Size, View } from './view';
import { toScreen, toWorld } from './view';

export type { Goal, Stays } from './use-camera';

export interface Marked {
  /** World coordinates to pixels within the viewport. */
  screen: (x: number, y: number) => [number, number];
  view: View;
  size: Size;
}

interface Props extends Partial<Pointing> {
  pictures: readonly Picture[];
  hidden?: ReadonlySet<string>;
  wipe?: number;
  unit: string | null;
  /** Drawn over the picture, in screen pixels. */
  marks?: (m: Marked) => ReactNode;
  /** Entities out of sight, and entities to be marked, by id. */
  hiddenIds?: ReadonlySet<number>;
  selected?: ReadonlySet<number>;
  /** Cuts what lies in a window more finely. */
  onDetail?: (x0: number, y0: number, x1: number, y1: number, tolerance: number) => Promise<Scene | null>;
  /** Told what of the drawing is in sight whenever that changes. */
  onSight?: (sight: NonNullable<Scene['bounds']>) => void;
  /** Changing it moves the view there. */
  goTo?: Goal | null;
  /** Whether the view stays where it is when a drawing of another extent is shown. */
  stays?: Stays;
  cursor?: 'grab' | 'crosshair';
  label: string;
  /** More of the drawing is still to come than what is in `pictures`. */
  unfinished?: boolean;
}

const NONE: ReadonlySet<number> = new Set();
/** The drawing itself: pan by dragging, zoom at the cursor with the wheel, keys for both. */
export function Viewport({
  pictures,
  hidden,
  wipe = 0.5,
  unit,
  marks,
  hiddenIds = NONE,
  selected = NONE,
  onPick,
  onFrame,
  framing = false,
  onDetail,
  onHover,
  onSight,
  goTo,
  stays = 'no',
  cursor = 'grab',
  label,
  unfinished = false,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const first = pictures[0]?.scene;
  const camera = useCamera(box, first?.visibleBounds ?? first?.bounds ?? null, goTo, stays);
  const { view, size, fitAll, zoom } = camera;

  const base = pictures.length === 1 && !pictures[0]!.tint ? pictures[0]!.scene : null;
  const detail = useDetail(base, view, size, onDetail);
  const drawn = useMemo(() => {
    const list = detail && base ? [{ scene: detail }] : [...pictures];
    if (selected.size === 0 || list.length === 0) return list;
    return [...list, { scene: highlighted(list[0]!.scene, selected), bar: true }];
  }, [pictures, base, detail, selected]);
  const { failed, drawing } = useDrawLoop(canvas, { size, view, drawn, hidden, hiddenIds, wipe });
  const { frame, corner, byKey, handlers } = usePointer(camera, { onPick, onFrame, framing, onHover });

  useAction('Show all of the drawing', 'Home', fitAll, false);
  useEffect(() => {
    if (!view || !onSight || size.width === 0) return;
    const [minX, maxY] = toWorld(view, size, 0, 0);
    const [maxX, minY] = toWorld(view, size, size.width, size.height);
    onSight({ minX, minY, maxX, maxY });
  }, [view, size, onSight]);

  const screen = (x: number, y: number): [number, number] => (view ? toScreen(view, size, x, y) : [0, 0]);
  const byCorner = corner && view ? ([...screen(...corner), size.width / 2, size.height / 2] as const) : null;
  return (
    <div
      ref={box}
      role="application"
      aria-label={`${label}. Arrow keys move, plus and minus zoom, Home shows all, Enter picks what lies in the middle or sets a corner of a frame.`}
      tabIndex={0}
      data-testid="viewport"
      data-view={view ? `${view.x} ${view.y} ${view.scale}` : ''}
      className="relative h-full w-full touch-none overflow-hidden bg-sheet select-none"
      style={{ cursor: framing ? 'crosshair' : cursor }}
      {...handlers}
    >
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" />
      {failed && <p className="absolute inset-0 grid place-items-center p-8 text-quiet">{failed}</p>}
      {view && marks && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full">{marks({ screen, view, size })}</svg>
      )}
      <Overlay framed={frame ?? byCorner} byKey={byKey} size={size} />
      {(unfinished || drawing !== null) && <Unfinished done={unfinished ? null : drawing} />}
      {view && <ScaleBar view={view} unit={unit} />}
      <ZoomButtons zoom={zoom} fitAll={fitAll} />
    </div>
  );
}

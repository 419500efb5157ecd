import type { KeyboardEvent, PointerEvent } from 'react';
import { useEffect, useRef, useState } from 'react';
import type { Camera } from './use-camera';
import type { View } from './view';
import { toWorld } from './view';

const SNAP_PIXELS = 12;

/** What is told of pointing, by pointer or by keys, in the drawing's coordinates. */
export interface Pointing {
  /** A click that was no drag, or Enter at the middle. `reach` is a snapping distance in world units. */
  onPick?: ((x: number, y: number, reach: number, add: boolean) => void) | undefined;
  /** A frame drawn by dragging: with Shift, or always while `framing`. */
  onFrame?: ((x0: number, y0: number, x1: number, y1: number, add: boolean) => void) | undefined;
  framing: boolean;
  onHover?: ((x: number, y: number, reach: number) => void) | undefined;
}

export interface Pointer {
  /** A frame that is being dragged, in pixels. */
  frame: readonly [number, number, number, number] | null;
  /** The first corner of a frame that is drawn by keys, in the drawing's coordinates. */
  corner: readonly [number, number] | null;
  /** The cross in the middle stands for the pointer. */
  byKey: boolean;
  handlers: {
    onPointerDown: (e: PointerEvent) => void;
    onPointerMove: (e: PointerEvent) => void;
    onPointerUp: (e: PointerEvent) => void;
    onPointerCancel: () => void;
    onBlur: () => void;
    onKeyDown: (e: KeyboardEvent) => void;
  };
}

/** What pointer and keys do in a viewport: move it, pick, draw frames. */
export function usePointer(camera: Camera, { onPick, onFrame, framing, onHover }: Pointing): Pointer {
  const { view, size, setView, local, zoom, pan, fitAll } = camera;
  const drag = useRef<{ x: number; y: number; moved: boolean; frame: boolean } | null>(null);
  const [frame, setFrame] = useState<[number, number, number, number] | null>(null);
  const [byKey, setByKey] = useState(false);
  const [corner, setCorner] = useState<[number, number] | null>(null);
  useEffect(() => setCorner(null), [framing]);

  const onPointerDown = (e: PointerEvent): void => {
    if (e.button > 1) return;
    const [x, y] = local(e);
    drag.current = { x, y, moved: false, frame: onFrame !== undefined && (framing || e.shiftKey) && e.button === 0 };
    setByKey(false);
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const onPointerMove = (e: PointerEvent): void => {
    const [x, y] = local(e);
    const d = drag.current;
    if (d) {
      if (!d.moved && Math.hypot(x - d.x, y - d.y) < 4) return;
      if (d.frame) {
        d.moved = true;
        return setFrame([d.x, d.y, x, y]);
      }
      const [dx, dy] = [x - d.x, y - d.y];
      drag.current = { x, y, moved: true, frame: false };
      setView((v) => v && { ...v, x: v.x - dx / v.scale, y: v.y + dy / v.scale });
    } else if (view && onHover) {
      const [wx, wy] = toWorld(view, size, x, y);
      onHover(wx, wy, SNAP_PIXELS / view.scale);
    }
  };
  const onPointerUp = (e: PointerEvent): void => {
    const d = drag.current;
    drag.current = null;
    setFrame(null);
    if (!d || !view) return;
    const [wx, wy] = toWorld(view, size, ...local(e));
    if (d.frame && d.moved) {
      const [sx, sy] = toWorld(view, size, d.x, d.y);
      onFrame?.(Math.min(sx, wx), Math.min(sy, wy), Math.max(sx, wx), Math.max(sy, wy), !framing && e.shiftKey);
    } else if (!d.moved) onPick?.(wx, wy, SNAP_PIXELS / view.scale, e.shiftKey);
  };

  /** The first Enter sets one corner of a frame, the second the other. */
  const frameByKey = (v: View, add: boolean): void => {
    if (!corner) return setCorner([v.x, v.y]);
    const [x, y] = corner;
    setCorner(null);
    onFrame?.(Math.min(x, v.x), Math.min(y, v.y), Math.max(x, v.x), Math.max(y, v.y), add);
  };
  const onKeyDown = (e: KeyboardEvent): void => {
    const keys: Record<string, () => void> = {
      ArrowLeft: () => pan(-0.1, 0),
      ArrowRight: () => pan(0.1, 0),
      ArrowUp: () => pan(0, 0.1),
      ArrowDown: () => pan(0, -0.1),
      '+': () => zoom(1.4),
      '=': () => zoom(1.4),
      '-': () => zoom(1 / 1.4),
      Home: fitAll,
      ...(framing && view && { Enter: () => frameByKey(view, e.shiftKey) }),
      ...(onPick && view && !framing && { Enter: () => onPick(view.x, view.y, SNAP_PIXELS / view.scale, e.shiftKey) }),
      ...(corner && { Escape: () => setCorner(null) }),
    };
    const action = keys[e.key];
    if (!action || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    action();
    // What was stopped here is stopped no further out.
    if (e.key === 'Escape') e.stopPropagation();
    // The cross in the middle takes the place of a pointer.
    setByKey(true);
    if (onHover && view && e.key !== 'Enter') onHover(view.x, view.y, SNAP_PIXELS / view.scale);
  };

  const onPointerCancel = (): void => {
    drag.current = null;
    setFrame(null);
  };
  const handlers = {
    onPointerDown,
    onPointerMove,
    onPointerUp,
    onPointerCancel,
    onBlur: () => setByKey(false),
    onKeyDown,
  };
  return { frame, corner, byKey, handlers };
}

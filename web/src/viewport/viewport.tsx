import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Maximize, Minus, Plus } from 'lucide-react';
import type { Scene } from '@scalaria/core';
import { useGround } from '../parts/ground';
import { useAction } from '../parts/actions';
import { highlighted } from './highlight';
import type { Picture } from './renderer';
import { Renderer } from './renderer';
import { useDetail } from './use-detail';
import type { Size, View } from './view';
import { fit, toScreen, toWorld, zoomAt } from './view';
import { useViewSettings } from './view-settings';
import { ScaleBar } from './scale-bar';

export interface Marked {
  /** World coordinates to pixels within the viewport. */
  screen: (x: number, y: number) => [number, number];
  view: View;
  size: Size;
}

/** Where to go: about a point, `size` across; or a box with a margin. */
export type Goal = { x: number; y: number; size: number } | { minX: number; minY: number; maxX: number; maxY: number };

const NONE: ReadonlySet<number> = new Set();

interface Props {
  pictures: readonly Picture[];
  hidden?: ReadonlySet<string>;
  wipe?: number;
  unit: string | null;
  /** Drawn over the picture, in screen pixels. */
  marks?: (m: Marked) => ReactNode;
  /** Entities out of sight, and entities to be marked, by id. */
  hiddenIds?: ReadonlySet<number>;
  selected?: ReadonlySet<number>;
  /** A click that was no drag, or Enter at the middle. `reach` is a snapping distance in world units. */
  onPick?: (x: number, y: number, reach: number, add: boolean) => void;
  /** A frame drawn by dragging: with Shift, or always while `framing`. */
  onFrame?: (x0: number, y0: number, x1: number, y1: number, add: boolean) => void;
  framing?: boolean;
  /** Cuts what lies in a window more finely. */
  onDetail?: (x0: number, y0: number, x1: number, y1: number, tolerance: number) => Promise<Scene | null>;
  onHover?: (x: number, y: number, reach: number) => void;
  /** Changing it moves the view there. */
  goTo?: Goal | null;
  cursor?: 'grab' | 'crosshair';
  label: string;
}

const SNAP_PIXELS = 12;
const NO_LAYERS: ReadonlySet<string> = new Set();
/** The colour of what is selected. */
const MARK: Record<'paper' | 'night', [number, number, number]> = {
  paper: [0.11, 0.33, 0.44],
  night: [0.58, 0.76, 0.85],
};
/** Milliseconds a frame may take before moving shows the last picture instead of drawing each time. */
const SLOW_FRAME = 90;

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
  goTo,
  cursor = 'grab',
  label,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const renderer = useRef<Renderer | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const [view, setView] = useState<View | null>(null);
  const drag = useRef<{ x: number; y: number; moved: boolean; frame: boolean } | null>(null);
  const ground = useGround();
  const { ink, weights } = useViewSettings();
  const [frame, setFrame] = useState<[number, number, number, number] | null>(null);
  const [byKey, setByKey] = useState(false);
  // The first corner of a frame that is drawn by keys, in the drawing's coordinates.
  const [corner, setCorner] = useState<[number, number] | null>(null);
  const [picturesReady, setPicturesReady] = useState(0);

  useEffect(() => {
    try {
      renderer.current = new Renderer(canvas.current!, () => setPicturesReady((n) => n + 1));
    } catch {
      setFailed('This browser offers no WebGL, so the drawing cannot be shown here. Everything else works.');
    }
    return () => {
      renderer.current?.dispose();
      renderer.current = null;
    };
  }, []);

  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width: Math.round(width), height: Math.round(height) });
    });
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);

  const bounds = pictures[0]?.scene.visibleBounds ?? pictures[0]?.scene.bounds ?? null;
  const boundsKey = bounds ? `${bounds.minX},${bounds.minY},${bounds.maxX},${bounds.maxY}` : '';
  const fitAll = useCallback(() => {
    if (bounds && size.width > 0) setView(fit(bounds, size));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [boundsKey, size.width, size.height]);
  const fitted = useRef('');
  useEffect(() => {
    // A new drawing is shown whole; the same one keeps its view.
    if (fitted.current === boundsKey || size.width === 0 || !bounds) return;
    fitted.current = boundsKey;
    fitAll();
  }, [boundsKey, bounds, size.width, fitAll]);

  useEffect(() => {
    if (!goTo || size.width === 0) return;
    if ('minX' in goTo) return setView(fit(goTo, size, 0.2));
    const r = Math.max(goTo.size * 4, 1e-9);
    setView(fit({ minX: goTo.x - r, minY: goTo.y - r, maxX: goTo.x + r, maxY: goTo.y + r }, size));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [goTo]);

  const base = pictures.length === 1 && !pictures[0]!.tint ? pictures[0]!.scene : null;
  const detail = useDetail(base, view, size, onDetail);
  const drawn = useMemo(() => {
    const list = detail && base ? [{ scene: detail }] : [...pictures];
    if (selected.size === 0 || list.length === 0) return list;
    return [...list, { scene: highlighted(list[0]!.scene, selected), tint: MARK[ground.name] }];
  }, [pictures, base, detail, selected, ground.name]);
  useEffect(() => {
    renderer.current?.setPictures(drawn);
    renderer.current?.hideIds(hiddenIds);
  }, [drawn, hiddenIds]);
  const shown = useRef<View | null>(null);
  const cost = useRef(0);
  useEffect(() => {
    const node = canvas.current;
    if (!renderer.current || !node || !view || size.width === 0) return;
    let frame = 0;
    const draw = (): void => {
      const started = performance.now();
      renderer.current?.setSize(size, window.devicePixelRatio);
      const next = renderer.current?.begin(view, { ground, hidden: hidden ?? NO_LAYERS, wipe, ink, weights });
      node.style.transform = '';
      shown.current = view;
      const go = (): void => {
        if (next?.()) frame = requestAnimationFrame(go);
        else frame = requestAnimationFrame(() => (cost.current = performance.now() - started));
      };
      go();
    };
    const last = shown.current;
    if (last && last !== view && cost.current > SLOW_FRAME) {
      // A drawing that takes long is moved as the picture it is, and drawn anew once the hand rests.
      const [dx, dy] = [(last.x - view.x) * view.scale, (view.y - last.y) * view.scale];
      node.style.transform = `translate(${dx}px, ${dy}px) scale(${view.scale / last.scale})`;
      const timer = setTimeout(draw, 180);
      return () => {
        clearTimeout(timer);
        cancelAnimationFrame(frame);
      };
    }
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [view, size, drawn, hidden, hiddenIds, wipe, ground, ink, weights, picturesReady]);

  const local = (e: { clientX: number; clientY: number }): [number, number] => {
    const r = box.current!.getBoundingClientRect();
    return [e.clientX - r.left, e.clientY - r.top];
  };

  useEffect(() => {
    // React's wheel listeners are passive; this one keeps the page from scrolling.
    const node = box.current!;
    const wheel = (e: WheelEvent): void => {
      e.preventDefault();
      const factor = Math.exp(-e.deltaY * (e.deltaMode === 1 ? 0.05 : 0.0016));
      const [x, y] = local(e);
      setView((v) => v && zoomAt(v, size, x, y, factor));
    };
    node.addEventListener('wheel', wheel, { passive: false });
    return () => node.removeEventListener('wheel', wheel);
  }, [size]);

  const down = (e: PointerEvent): void => {
    if (e.button > 1) return;
    const [x, y] = local(e);
    drag.current = { x, y, moved: false, frame: onFrame !== undefined && (framing || e.shiftKey) && e.button === 0 };
    setByKey(false);
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const move = (e: PointerEvent): void => {
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
  const up = (e: PointerEvent): void => {
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
  useEffect(() => setCorner(null), [framing]);

  const zoom = (factor: number): void => setView((v) => v && zoomAt(v, size, size.width / 2, size.height / 2, factor));
  const key = (e: KeyboardEvent): void => {
    const pan = (dx: number, dy: number): void =>
      setView((v) => v && { ...v, x: v.x + (dx * size.width) / v.scale, y: v.y + (dy * size.height) / v.scale });
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

  useAction('Show all of the drawing', 'Home', fitAll, false);
  const screen = (x: number, y: number): [number, number] => (view ? toScreen(view, size, x, y) : [0, 0]);
  const framed = frame ?? (corner && view ? ([...screen(...corner), size.width / 2, size.height / 2] as const) : null);
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
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => {
        drag.current = null;
        setFrame(null);
      }}
      onBlur={() => setByKey(false)}
      onKeyDown={key}
    >
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" />
      {failed && <p className="absolute inset-0 grid place-items-center p-8 text-quiet">{failed}</p>}
      {view && marks && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full">{marks({ screen, view, size })}</svg>
      )}
      {(framed || byKey) && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full text-act" fill="none" stroke="currentColor">
          {framed && (
            <rect
              x={Math.min(framed[0], framed[2])}
              y={Math.min(framed[1], framed[3])}
              width={Math.abs(framed[2] - framed[0])}
              height={Math.abs(framed[3] - framed[1])}
              strokeDasharray="8 4"
            />
          )}
          {byKey && (
            <path d={`M${size.width / 2 - 9} ${size.height / 2}h18M${size.width / 2} ${size.height / 2 - 9}v18`} />
          )}
        </svg>
      )}
      {view && <ScaleBar view={view} unit={unit} />}
      <div className="absolute right-3 bottom-3 flex flex-col border border-rule bg-paper">
        {(
          [
            ['Zoom in', Plus, () => zoom(1.4)],
            ['Zoom out', Minus, () => zoom(1 / 1.4)],
            ['Show all', Maximize, fitAll],
          ] as const
        ).map(([name, Icon, act]) => (
          <button
            key={name}
            type="button"
            aria-label={name}
            title={name}
            className="p-1.5 hover:bg-wash"
            onPointerDown={(e) => e.stopPropagation()}
            onClick={act}
          >
            <Icon size={16} aria-hidden />
          </button>
        ))}
      </div>
    </div>
  );
}

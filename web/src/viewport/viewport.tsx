import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { Maximize, Minus, Plus } from 'lucide-react';
import { useGround } from '../parts/ground';
import type { Picture } from './renderer';
import { Renderer } from './renderer';
import type { Size, View } from './view';
import { fit, toScreen, toWorld, zoomAt } from './view';
import { ScaleBar } from './scale-bar';

export interface Marked {
  /** World coordinates to pixels within the viewport. */
  screen: (x: number, y: number) => [number, number];
  view: View;
  size: Size;
}

interface Props {
  pictures: readonly Picture[];
  hidden?: ReadonlySet<string>;
  wipe?: number;
  unit: string | null;
  /** Drawn over the picture, in screen pixels. */
  marks?: (m: Marked) => ReactNode;
  /** A click that was no drag. `reach` is a snapping distance in world units. */
  onPick?: (x: number, y: number, reach: number) => void;
  onHover?: (x: number, y: number, reach: number) => void;
  /** Changing it moves the view there. */
  goTo?: { x: number; y: number; size: number } | null;
  cursor?: 'grab' | 'crosshair';
  label: string;
}

const SNAP_PIXELS = 12;
/** Milliseconds a frame may take before moving shows the last picture instead of drawing each time. */
const SLOW_FRAME = 90;

/** The drawing itself: pan by dragging, zoom at the cursor with the wheel, keys for both. */
export function Viewport({
  pictures,
  hidden,
  wipe = 0.5,
  unit,
  marks,
  onPick,
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
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const ground = useGround();

  useEffect(() => {
    try {
      renderer.current = new Renderer(canvas.current!);
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
    const r = Math.max(goTo.size * 4, 1e-9);
    setView(fit({ minX: goTo.x - r, minY: goTo.y - r, maxX: goTo.x + r, maxY: goTo.y + r }, size));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [goTo]);

  useEffect(() => renderer.current?.setPictures(pictures), [pictures]);
  const shown = useRef<View | null>(null);
  const cost = useRef(0);
  useEffect(() => {
    const node = canvas.current;
    if (!renderer.current || !node || !view || size.width === 0) return;
    const draw = (): void => {
      const started = performance.now();
      renderer.current?.setSize(size, window.devicePixelRatio);
      renderer.current?.render(view, ground, hidden ?? new Set(), wipe);
      node.style.transform = '';
      shown.current = view;
      requestAnimationFrame(() => (cost.current = performance.now() - started));
    };
    const last = shown.current;
    if (last && last !== view && cost.current > SLOW_FRAME) {
      // A drawing that takes long is moved as the picture it is, and drawn anew once the hand rests.
      const [dx, dy] = [(last.x - view.x) * view.scale, (view.y - last.y) * view.scale];
      node.style.transform = `translate(${dx}px, ${dy}px) scale(${view.scale / last.scale})`;
      const timer = setTimeout(draw, 180);
      return () => clearTimeout(timer);
    }
    const frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [view, size, pictures, hidden, wipe, ground]);

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
    drag.current = { x, y, moved: false };
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const move = (e: PointerEvent): void => {
    const [x, y] = local(e);
    const d = drag.current;
    if (d) {
      if (!d.moved && Math.hypot(x - d.x, y - d.y) < 4) return;
      const [dx, dy] = [x - d.x, y - d.y];
      drag.current = { x, y, moved: true };
      setView((v) => v && { ...v, x: v.x - dx / v.scale, y: v.y + dy / v.scale });
    } else if (view && onHover) {
      const [wx, wy] = toWorld(view, size, x, y);
      onHover(wx, wy, SNAP_PIXELS / view.scale);
    }
  };
  const up = (e: PointerEvent): void => {
    const d = drag.current;
    drag.current = null;
    if (!d || d.moved || !view || !onPick) return;
    const [wx, wy] = toWorld(view, size, ...local(e));
    onPick(wx, wy, SNAP_PIXELS / view.scale);
  };

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
    };
    const action = keys[e.key];
    if (!action || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    action();
  };

  const screen = (x: number, y: number): [number, number] => (view ? toScreen(view, size, x, y) : [0, 0]);
  return (
    <div
      ref={box}
      role="application"
      aria-label={`${label}. Arrow keys move, plus and minus zoom, Home shows all.`}
      tabIndex={0}
      data-testid="viewport"
      data-view={view ? `${view.x} ${view.y} ${view.scale}` : ''}
      className="relative h-full w-full touch-none overflow-hidden bg-sheet select-none"
      style={{ cursor }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => (drag.current = null)}
      onKeyDown={key}
    >
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" />
      {failed && <p className="absolute inset-0 grid place-items-center p-8 text-quiet">{failed}</p>}
      {view && marks && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full">{marks({ screen, view, size })}</svg>
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

import type { RefObject } from 'react';
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { Scene } from '@scalaria/core';
import type { Size, View } from './view';
import { fit, isInSight, zoomAt } from './view';

/** Where to go: about a point, `size` across; or a box with a margin, a part of it. */
export type Goal =
  { x: number; y: number; size: number } | { minX: number; minY: number; maxX: number; maxY: number; margin?: number };

export interface Camera {
  size: Size;
  /** `null` until there is something to look at. */
  view: View | null;
  setView: (change: (v: View | null) => View | null) => void;
  fitAll: () => void;
  /** About the middle. */
  zoom: (factor: number) => void;
  /** Moves by parts of the window. */
  pan: (dx: number, dy: number) => void;
  /** The place of an event within the window, in pixels. */
  local: (e: { clientX: number; clientY: number }) => [number, number];
}

/** What becomes of the view when a drawing of another extent is shown: it is shown whole, or the view stays where somebody chose it, or wherever it is. Out of sight nothing stays. */
export type Stays = 'no' | 'chosen' | 'always';

/** What is looked at through a box of the page: a new drawing whole, then wherever wheel, keys and goals lead. */
export function useCamera(
  box: RefObject<HTMLDivElement | null>,
  bounds: Scene['bounds'],
  goTo?: Goal | null,
  stays: Stays = 'no',
): Camera {
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const [view, changeView] = useState<View | null>(null);
  const chosen = useRef(false);
  const setView = useCallback<Camera['setView']>((change) => {
    chosen.current = true;
    changeView(change);
  }, []);

  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width: Math.round(width), height: Math.round(height) });
    });
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, [box]);

  const boundsKey = bounds ? `${bounds.minX},${bounds.minY},${bounds.maxX},${bounds.maxY}` : '';
  const fitAll = useCallback(() => {
    if (!bounds || size.width === 0) return;
    chosen.current = false;
    changeView(fit(bounds, size));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [boundsKey, size.width, size.height]);
  const fitted = useRef('');
  const latest = useRef(view);
  useEffect(() => {
    latest.current = view;
  });
  useEffect(() => {
    // A new drawing is shown whole; the same one keeps its view.
    if (fitted.current === boundsKey || size.width === 0 || !bounds) return;
    const isHeld = stays === 'always' || (stays === 'chosen' && chosen.current);
    if (isHeld && fitted.current !== '' && latest.current && isInSight(latest.current, size, bounds)) return;
    fitted.current = boundsKey;
    fitAll();
    // What the view is when the bounds change decides, not each of its changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [boundsKey, bounds, size.width, fitAll, stays]);

  useEffect(() => {
    if (!goTo || size.width === 0) return;
    if ('minX' in goTo) return setView(() => fit(goTo, size, goTo.margin ?? 0.2));
    const r = Math.max(goTo.size * 4, 1e-9);
    setView(() => fit({ minX: goTo.x - r, minY: goTo.y - r, maxX: goTo.x + r, maxY: goTo.y + r }, size));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [goTo]);

  const local = useCallback(
    (e: { clientX: number; clientY: number }): [number, number] => {
      const r = box.current!.getBoundingClientRect();
      return [e.clientX - r.left, e.clientY - r.top];
    },
    [box],
  );

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
  }, [box, local, size, setView]);

  const zoom = (factor: number): void => setView((v) => v && zoomAt(v, size, size.width / 2, size.height / 2, factor));
  const pan = (dx: number, dy: number): void =>
    setView((v) => v && { ...v, x: v.x + (dx * size.width) / v.scale, y: v.y + (dy * size.height) / v.scale });
  return { size, view, setView, fitAll, zoom, pan, local };
}

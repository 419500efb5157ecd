import type { RefObject } from 'react';
import { useEffect, useRef, useState } from 'react';
import { useGround } from '../parts/ground';
import type { Picture } from './renderer';
import { Renderer } from './renderer';
import type { Size, View } from './view';
import { useViewSettings } from './view-settings';

/** Milliseconds a frame may take before moving shows the last picture instead of drawing each time. */
const SLOW_FRAME = 90;
const NO_LAYERS: ReadonlySet<string> = new Set();

interface Shown {
  size: Size;
  view: View | null;
  drawn: readonly Picture[];
  hidden: ReadonlySet<string> | undefined;
  hiddenIds: ReadonlySet<number>;
  wipe: number;
}

/** Draws onto a canvas whenever what is shown changes, in slices; says why where it cannot. */
export function useDrawLoop(
  canvas: RefObject<HTMLCanvasElement | null>,
  { size, view, drawn, hidden, hiddenIds, wipe }: Shown,
): string | null {
  const renderer = useRef<Renderer | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [picturesReady, setPicturesReady] = useState(0);
  const ground = useGround();
  const { ink, weights } = useViewSettings();

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
  }, [canvas]);

  useEffect(() => {
    renderer.current?.setPictures([...drawn]);
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
  }, [canvas, view, size, drawn, hidden, hiddenIds, wipe, ground, ink, weights, picturesReady]);

  return failed;
}

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

/** A picture that takes longer than this says how much of it is drawn, in milliseconds. */
const WORTH_SAYING = 300;

/**
 * Draws onto a canvas whenever what is shown changes, in slices. `failed` says why where it cannot; `drawing` how much is drawn,
 * from 0 to 1, of a picture that takes long, and is `null` once it is whole.
 */
export function useDrawLoop(
  canvas: RefObject<HTMLCanvasElement | null>,
  { size, view, drawn, hidden, hiddenIds, wipe }: Shown,
): { failed: string | null; drawing: number | null } {
  const renderer = useRef<Renderer | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [picturesReady, setPicturesReady] = useState(0);
  const [drawing, setDrawing] = useState<number | null>(null);
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
        const done = next?.() ?? 1;
        if (done < 1) {
          if (performance.now() - started > WORTH_SAYING) setDrawing(Math.round(done * 20) / 20);
          frame = requestAnimationFrame(go);
          return;
        }
        setDrawing(null);
        frame = requestAnimationFrame(() => (cost.current = performance.now() - started));
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

  return { failed, drawing };
}

import { useEffect, useRef, useState } from 'react';
import type { Scene } from '@scalaria/core';
import type { Size, View } from './view';

/** The part of a drawing's size that its chords may lie from its curves, as the worker cuts the whole. */
const WHOLE = 1 / 20000;
/** How far a chord may lie from its curve, in pixels, before a finer one is asked for, and how fine that is. */
const COARSE = 0.6;
const FINE = 0.2;
/** How much more than what is in sight is cut. */
const ROOM = 1.8;

interface Detail {
  of: Scene;
  scene: Scene;
  box: [number, number, number, number];
  tolerance: number;
}

type Ask = (x0: number, y0: number, x1: number, y1: number, tolerance: number) => Promise<Scene | null>;

/** A finer cut of what is in sight, while the view is so close that the chords of the whole would be seen. */
export function useDetail(base: Scene | null, view: View | null, size: Size, ask: Ask | undefined): Scene | null {
  const [detail, setDetail] = useState<Detail | null>(null);
  const asking = useRef(0);
  const b = base?.bounds;
  const whole = b ? Math.hypot(b.maxX - b.minX, b.maxY - b.minY) * WHOLE : 0;
  const close = base !== null && view !== null && size.width > 0 && whole * view.scale > COARSE;
  const [hw, hh] = view ? [size.width / 2 / view.scale, size.height / 2 / view.scale] : [0, 0];
  const serves =
    close &&
    detail?.of === base &&
    detail.tolerance * view.scale < COARSE &&
    view.x - hw >= detail.box[0] &&
    view.y - hh >= detail.box[1] &&
    view.x + hw <= detail.box[2] &&
    view.y + hh <= detail.box[3];
  useEffect(() => {
    if (!close || serves || !ask) return;
    const n = ++asking.current;
    // Only once the hand rests.
    const timer = setTimeout(() => {
      const box: Detail['box'] = [view.x - hw * ROOM, view.y - hh * ROOM, view.x + hw * ROOM, view.y + hh * ROOM];
      const tolerance = FINE / view.scale;
      ask(...box, tolerance).then(
        (scene) => scene && n === asking.current && setDetail({ of: base, scene, box, tolerance }),
        () => {},
      );
    }, 120);
    return () => clearTimeout(timer);
  }, [close, serves, ask, base, view, hw, hh]);
  return serves ? detail.scene : null;
}

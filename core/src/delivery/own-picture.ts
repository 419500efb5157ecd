import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import { Ledger } from '../drawing/ledger.js';
import { Stages } from '../drawing/lineage.js';
import { because } from '../drawing/reasons.js';
import { IDENTITY } from '../geometry/affine.js';
import { UNDER_LAYER, putImage, underImage } from '../intake/under.js';
import type { Prepared } from './pipeline.js';

/** How much is left free around the drawing, as a part of its longer side. */
const MARGIN = 0.02;

/** What a picture of a drawing shows, in its coordinates, and of how many whole pixels it is. */
export interface PictureWindow {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly pixels: readonly [number, number];
}

/** A window around all that is seen of a drawing, its longer side so many pixels and the other whole ones too; `null` for none. */
export function pictureWindow(drawing: Drawing, pixels: number): PictureWindow | null {
  const box = boundsOf(drawing);
  if (box.empty) return null;
  const longer = Math.max(box.width, box.height, Number.MIN_VALUE);
  const perPixel = (longer * (1 + 2 * MARGIN)) / pixels;
  const along = (side: number): number =>
    Math.max(1, Math.min(pixels, Math.ceil((side + 2 * longer * MARGIN) / perPixel - 1e-9)));
  const [w, h] = [along(box.width), along(box.height)];
  const [width, height] = [w * perPixel, h * perPixel];
  const middle = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2] as const;
  return { x: middle[0] - width / 2, y: middle[1] - height / 2, width, height, pixels: [w, h] };
}

/** The drawing with the picture of it, which will lie beside its file under a name, put under it at true size. */
export function withOwnPicture(prepared: Prepared, name: string, pixels: number): Prepared {
  const w = pictureWindow(prepared.drawing, pixels);
  if (!w) return prepared;
  const ledger = new Ledger('intake');
  const stages = new Stages(prepared.drawing);
  const [at, right, up] = [
    { x: w.x, y: w.y },
    { x: w.x + w.width, y: w.y },
    { x: w.x, y: w.y + w.height },
  ];
  const place = {
    picture: name,
    width: w.pixels[0],
    height: w.pixels[1],
    at,
    right,
    up,
    opacity: 100,
    delivered: true,
  };
  stages.run('Picture of the drawing', (from, lineage) => {
    const image = underImage(place, IDENTITY, undefined, from.nextId);
    ledger.add({
      carryOver: 'links',
      action: 'changed',
      onPurpose: true,
      reason: because('own-picture-put-under', { name }),
      id: image.id,
    });
    return putImage(from, image, lineage);
  });
  return {
    drawing: stages.drawing,
    ledger: [...prepared.ledger, ...ledger.rows],
    stages: [...prepared.stages, ...stages.list],
  };
}

/** Of what was handed to the writer: what its own picture shows, and the drawing without it; `null` where it has none. */
export function ownPictureIn(written: Drawing, name: string): { window: PictureWindow; drawing: Drawing } | null {
  const image = written.entities.find((e) => e.kind === 'image' && e.layer === UNDER_LAYER && e.file === name);
  if (image?.kind !== 'image') return null;
  const { at, u, v, pixels } = image;
  return {
    window: { x: at[0], y: at[1], width: u[0] * pixels[0], height: v[1] * pixels[1], pixels },
    drawing: { ...written, entities: written.entities.filter((e) => e !== image) },
  };
}

import { emptyDrawing, newLayer } from '../drawing/drawing.js';
import type { Image } from '../drawing/entity.js';
import { Box2 } from '../geometry/box.js';
import type { FontBook } from '../text/fonts.js';
import { buildScene } from './build.js';
import type { Scene } from './scene.js';

/** In the order of drawing it comes before all else, whose numbers are 0 and above. */
const BEHIND = -0.5;

/** A scene with a picture under all else of it, as clear as it is to be seen; without its data nothing is added. */
export function withPictureUnder(scene: Scene, image: Image, opacity: number, fonts: FontBook): Scene {
  if (image.data === undefined) return scene;
  const alone = emptyDrawing('svg', '1.1');
  alone.layers.push(newLayer(image.layer));
  alone.entities.push(image);
  const own = buildScene(alone, fonts);
  const [dx, dy] = [own.origin[0] - scene.origin[0], own.origin[1] - scene.origin[1]];
  const pictures = own.pictures.map((p) => ({
    ...p,
    opacity,
    corners: p.corners.map((v, i) => (i % 3 === 0 ? v + dx : i % 3 === 1 ? v + dy : BEHIND)),
  }));
  const box = new Box2();
  for (const b of [scene.bounds, own.bounds]) {
    if (!b) continue;
    box.add(b.minX, b.minY);
    box.add(b.maxX, b.maxY);
  }
  return { ...scene, pictures: [...pictures, ...scene.pictures], bounds: box.empty ? null : box.toJSON() };
}

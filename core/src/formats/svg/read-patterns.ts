import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, scaling, translation } from '../../geometry/affine.js';
import type { Box2 } from '../../geometry/box.js';
import type { Clip } from '../../drawing/entity.js';
import { parseLength } from './lengths.js';
import type { PlacedStyles, State } from './state.js';
import { boxInUserSpace, clippedTo, cutsOverflow, linked } from './state.js';
import { parseTransform, parseViewBox, viewBoxMap } from './transforms.js';
import type { XmlElement } from './xml.js';
import { elementsOf } from './xml.js';

/** Most tiles that one shape is filled with. */
export const MAX_TILES = 4000;

/** The tiles of a pattern over a shape: the children to draw and the state for each tile; `null` when there are too many. */
export interface Tiling {
  children: XmlElement[];
  tiles: State[];
}

/**
 * Lays a `pattern` over a shape (SVG 2 §14.3). `world` is the shape's box in the drawing's coordinates, `own` the one in
 * its user space, `outline` what the tiles are cut to.
 */
export function tilesOf(
  pattern: XmlElement,
  shape: State,
  world: Box2,
  own: Box2,
  outline: Clip,
  styles: PlacedStyles,
): Tiling | null {
  const chain = inherited(pattern, styles);
  const get = (name: string): string | undefined => chain.find((p) => p.attributes.has(name))?.attributes.get(name);
  const boxUnits = get('patternUnits') !== 'userSpaceOnUse';
  const length = (name: string, size: number, percentOf: number): number => {
    const text = get(name) ?? '0';
    if (!boxUnits) return parseLength(text, { percentOf, em: shape.em }) ?? 0;
    return (text.trim().endsWith('%') ? parseFloat(text) / 100 : parseFloat(text)) * size || 0;
  };
  const { width: vw, height: vh } = shape.viewport;
  const x = length('x', own.width, vw) + (boxUnits ? own.minX : 0);
  const y = length('y', own.height, vh) + (boxUnits ? own.minY : 0);
  const [w, h] = [length('width', own.width, vw), length('height', own.height, vh)];
  if (!(w > 0) || !(h > 0)) return { children: [], tiles: [] };
  const turned = chain.find((p) => p.attributes.has('patternTransform'));
  const m = compose(shape.ctm, parseTransform(turned?.attributes.get('patternTransform')) ?? IDENTITY);
  const seen = boxInUserSpace(world, m);
  const holder = chain.find((p) => elementsOf(p).some((c) => c.name !== 'title' && c.name !== 'desc'));
  if (!seen || !holder) return { children: [], tiles: [] };
  const view = parseViewBox(get('viewBox'));
  // What is in the tile counts from the tile's corner.
  let content: Affine = translation(x, y);
  if (view) content = compose(content, viewBoxMap(view, w, h, get('preserveAspectRatio')));
  else if (get('patternContentUnits') === 'objectBoundingBox')
    content = compose(content, scaling(own.width, own.height, 1));
  const e = 1e-9;
  const [i0, i1] = [Math.floor((seen.minX - x) / w + e), Math.ceil((seen.maxX - x) / w - e)];
  const [j0, j1] = [Math.floor((seen.minY - y) / h + e), Math.ceil((seen.maxY - y) / h - e)];
  if ((i1 - i0) * (j1 - j0) > MAX_TILES) return null;
  const style = styles.of(holder);
  const cut = cutsOverflow(styles.of(pattern));
  const tiles: State[] = [];
  for (let j = j0; j < j1; j++)
    for (let i = i0; i < i1; i++) {
      const at = compose(m, translation(i * w, j * h));
      let state: State = { ...shape, style, ctm: at, clip: outline, tile: true, viewport: view ?? shape.viewport };
      if (cut) state = clippedTo(state, x, y, w, h);
      tiles.push({ ...state, ctm: compose(at, content) });
    }
  return { children: elementsOf(holder), tiles };
}

/** A pattern and those it takes after through `href`, nearest first. */
function inherited(pattern: XmlElement, styles: PlacedStyles): XmlElement[] {
  const chain = [pattern];
  for (
    let p = linked(styles.document, pattern);
    p?.name === 'pattern' && !chain.includes(p);
    p = linked(styles.document, p)
  )
    chain.push(p);
  return chain;
}

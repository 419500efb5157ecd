import { applyPoint, compose } from '../geometry/affine.js';
import type { Affine } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import { triangulate } from '../geometry/triangulate.js';
import { entityToWorld } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity, RichText, Text } from '../drawing/entity.js';
import { Flattener, flattenEntity } from '../drawing/flatten.js';
import { boundsOf } from '../drawing/measures.js';
import type { Visit } from '../drawing/resolve.js';
import { walk } from '../drawing/resolve.js';
import type { Work } from '../formats/format.js';
import { checkStop } from '../formats/format.js';
import type { FontBook } from '../text/fonts.js';
import type { TextLine } from '../text/layout.js';
import { linesOf } from '../text/layout.js';
import { visitPath } from '../geometry/path.js';
import { LayerBuffers } from './buffers.js';
import type { Scene } from './scene.js';
import { SnapCollector } from './snaps.js';

/** How finely curves are cut: a part of the drawing's diagonal. */
const FINENESS = 1 / 20000;
/** Distance in draw order from one entity to the next: what single precision can still tell apart. */
const DEPTH_STEP = 2 ** -22;
/** Triangles of a line of text, in em; texts repeat, so they are kept. */
type GlyphCache = Map<string, { triangles: Float64Array; advance: number }>;

/**
 * Cuts a drawing (y upwards) into chords and triangles. Hidden content is cut too, on its own layers, so that the
 * view can switch it; entities hidden by themselves are left out.
 */
export function buildScene(drawing: Drawing, fonts: FontBook, work?: Work): Scene {
  const bounds = boundsOf(drawing, { hidden: true });
  const diagonal = bounds.diagonal || 1;
  const origin: [number, number] = bounds.empty
    ? [0, 0]
    : [(bounds.minX + bounds.maxX) / 2, (bounds.minY + bounds.maxY) / 2];
  const layers = new Map<string, LayerBuffers>(drawing.layers.map((l) => [l.name, new LayerBuffers(origin)]));
  const snaps = new SnapCollector();
  const glyphs: GlyphCache = new Map();
  const total = drawing.entities.length + 1;
  let n = 0;
  let top = 0;
  let last: Entity | null = null;
  walk(
    drawing,
    (v) => {
      if (v.top !== last) {
        last = v.top;
        top++;
        if (top % 2048 === 0) {
          checkStop(work);
          work?.onProgress?.(top / total);
        }
      }
      if (!v.entity.look.visible) return;
      let buffers = layers.get(v.resolved.layer);
      if (!buffers) layers.set(v.resolved.layer, (buffers = new LayerBuffers(origin)));
      n++;
      buffers.depth = Math.min(1, n * DEPTH_STEP);
      draw(v, drawing, buffers, diagonal * FINENESS, fonts, glyphs);
      snaps.add(v.entity, v.toWorld);
    },
    { hidden: true },
  );
  const made = [...layers].map(([name, b]) => b.finish(name));
  const { points, kinds } = snaps.finish();
  return {
    origin,
    bounds: bounds.toJSON(),
    visibleBounds: boundsOf(drawing).toJSON(),
    layers: made,
    snapPoints: points,
    snapKinds: kinds,
    chords: made.reduce((s, l) => s + l.lines.length / 6, 0),
    triangles: made.reduce((s, l) => s + l.triangles.length / 9, 0),
  };
}

function draw(
  v: Visit,
  drawing: Drawing,
  out: LayerBuffers,
  tolerance: number,
  fonts: FontBook,
  glyphs: GlyphCache,
): void {
  const { entity: e, resolved: r } = v;
  switch (e.kind) {
    case 'insert':
    case 'opaque':
      return;
    case 'text':
    case 'richText':
      out.colour(r.fill ?? r.stroke ?? 0, r.fillOpacity, r.foreground);
      return drawText(e, v, drawing, out, fonts, glyphs);
    case 'point': {
      const p = applyPoint(v.toWorld, e.at);
      const h = tolerance * 20;
      out.colour(r.stroke ?? 0, 1, r.foreground);
      out.chord(p[0] - h, p[1], p[0] + h, p[1]);
      out.chord(p[0], p[1] - h, p[0], p[1] + h);
      return;
    }
  }
  const solid = (e.kind === 'hatch' && e.solid) || (e.kind === 'face' && e.solid);
  const fill = r.fill ?? (solid ? r.stroke : null);
  // A small feature is cut finely enough to look round when it is zoomed to.
  const fine = Math.min(tolerance, new Size(e, v.toWorld).diagonal / 300 || tolerance);
  if (fill !== null && e.kind !== 'line' && (e.kind !== 'hatch' || e.solid)) {
    const rings = ringsOf(e, v.toWorld, fine);
    out.colour(fill, r.fillOpacity, r.foreground && r.stroke === null);
    out.area(triangulate(rings, e.look.fillRule));
  }
  const stroke = e.kind === 'hatch' && !e.solid ? (r.fill ?? r.stroke) : solid ? null : r.stroke;
  if (stroke === null) return;
  out.colour(stroke, r.strokeOpacity, r.foreground);
  let [px, py] = [0, 0];
  flattenEntity(e, v.toWorld, fine, {
    moveTo: (x, y) => {
      px = x;
      py = y;
    },
    lineTo: (x, y) => {
      out.chord(px, py, x, y);
      px = x;
      py = y;
    },
  });
}

/** The rough size of an entity in the world, by chords of a coarse tolerance. */
class Size {
  readonly diagonal: number;
  constructor(e: Entity, m: Affine) {
    if (e.kind === 'line') {
      this.diagonal = 0;
      return;
    }
    const box = new Box2();
    const add = (x: number, y: number): void => box.add(x, y);
    flattenEntity(e, m, Infinity, { moveTo: add, lineTo: add });
    this.diagonal = box.diagonal;
  }
}

function ringsOf(e: Entity, m: Affine, tolerance: number): number[][] {
  const rings: number[][] = [];
  flattenEntity(e, m, tolerance, {
    moveTo: (x, y) => rings.push([x, y]),
    lineTo: (x, y) => rings[rings.length - 1].push(x, y),
  });
  for (const r of rings) {
    const n = r.length;
    if (n > 4 && r[0] === r[n - 2] && r[1] === r[n - 1]) r.length = n - 2;
  }
  return rings;
}

function drawText(
  e: Text | RichText,
  v: Visit,
  drawing: Drawing,
  out: LayerBuffers,
  fonts: FontBook,
  glyphs: GlyphCache,
): void {
  const plane = entityToWorld(e, v.toWorld);
  for (const line of linesOf(e, drawing, fonts)) {
    const shape = glyphShape(line, fonts, glyphs);
    const m = compose(plane, lineMatrix(line, shape.advance));
    const t = shape.triangles;
    const placed = new Float64Array(t.length);
    for (let i = 0; i < t.length; i += 2) {
      placed[i] = m[0] * t[i] + m[3] * t[i + 1] + m[9];
      placed[i + 1] = m[1] * t[i] + m[4] * t[i + 1] + m[10];
    }
    out.area(placed);
  }
}

function glyphShape(line: TextLine, fonts: FontBook, glyphs: GlyphCache): { triangles: Float64Array; advance: number } {
  const key = `${line.family}\u0000${line.text}`;
  const known = glyphs.get(key);
  if (known) return known;
  const outline = fonts.outline(line.text, line.family);
  const rings: number[][] = [];
  const flattener = new Flattener(
    {
      moveTo: (x, y) => rings.push([x, y]),
      lineTo: (x, y) => rings[rings.length - 1].push(x, y),
    },
    0.004,
  );
  visitPath(outline.path, {
    move: (x, y) => flattener.move(x, y, 0),
    close: () => {},
    piece: (cmd, x0, y0, d, i) => {
      if (cmd === 1) flattener.line(d[i], d[i + 1], 0);
      else if (cmd === 3) flattener.cubic(d[i], d[i + 1], 0, d[i + 2], d[i + 3], 0, d[i + 4], d[i + 5], 0);
      else if (cmd === 2) {
        const [qx, qy, x, y] = [d[i], d[i + 1], d[i + 2], d[i + 3]];
        const k = 2 / 3;
        flattener.cubic(x0 + k * (qx - x0), y0 + k * (qy - y0), 0, x + k * (qx - x), y + k * (qy - y), 0, x, y, 0);
      }
    },
  });
  const made = { triangles: triangulate(rings, 'nonzero'), advance: outline.advance };
  glyphs.set(key, made);
  return made;
}

/** From em coordinates of a line (pen at 0, 0) to the text's plane. */
export function lineMatrix(line: TextLine, advance: number): Affine {
  const stretch = line.stretchTo && advance > 0 ? line.stretchTo / (advance * line.em) : line.widthFactor;
  const [c, s] = [Math.cos(line.rotation), Math.sin(line.rotation)];
  const sx = line.em * stretch;
  const sy = line.em;
  const slant = Math.tan(line.oblique);
  const start = line.anchor === 'left' ? 0 : line.anchor === 'centre' ? -advance / 2 : -advance;
  const ox = start * sx;
  return [
    c * sx,
    s * sx,
    0,
    (c * slant - s) * sy,
    (s * slant + c) * sy,
    0,
    0,
    0,
    1,
    line.x + c * ox,
    line.y + s * ox,
    0,
  ];
}

import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, compose } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import { clippedChord } from '../geometry/clip-chord.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerKey } from '../drawing/drawing.js';
import { entityToWorld } from '../drawing/curves.js';
import type { Entity } from '../drawing/entity.js';
import type { ChordSink } from '../drawing/flatten.js';
import { flattenEntity } from '../drawing/flatten.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';
import { hatchLines } from '../drawing/hatch-area.js';
import { boundsOf } from '../drawing/bounds.js';
import { hex } from '../drawing/palette.js';
import type { Visit, WalkOptions } from '../drawing/resolve.js';
import { walk } from '../drawing/resolve.js';
import { windowBox, windowMap } from '../drawing/sheet-window.js';

const MAX_POINTS = 20_000;
/** A hatch of more dashes is one grey in a small picture. */
const MOST_DASHES = 2_000;
const PAD = 12;

/**
 * A small picture of a drawing (y upwards) as plain SVG: lines and fills only, coordinates in a box `width` wide. Made of
 * numbers and colours alone, so that nothing of the source's own markup reaches the page. Stops after 20,000 points.
 * A `sheet` is shown on its paper, with the lines that its windows show of model space. `frame`: what of the plane the picture
 * shows, so that two can be held against each other.
 */
export function previewSvg(
  drawing: Drawing,
  width = 320,
  height = 200,
  sheet?: string,
  frame?: Readonly<Box2>,
): string {
  const space = sheet === undefined ? {} : { sheet };
  const box = new Box2();
  box.addBox(frame ?? boundsOf(drawing, space));
  const paper = drawing.sheets.find((s) => s.name === sheet);
  if (paper?.paper) {
    const { width: w, height: h, marginLeft, marginBottom } = paper.paper;
    const k = paper.unitsPerMm;
    box.add(-marginLeft * k, -marginBottom * k);
    box.add((w - marginLeft) * k, (h - marginBottom) * k);
  }
  const head = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}">`;
  if (box.empty) return `${head}</svg>`;
  const pen = new PreviewPen(box, width, height, frame !== undefined);
  pen.draw(drawing, space);
  if (sheet !== undefined)
    for (const e of drawing.entities) {
      if (e.kind !== 'viewport' || e.sheet !== sheet) continue;
      const m = windowMap(e);
      const frozen = new Set(e.frozen.map((n) => layerKey(drawing, n)));
      if (m) pen.draw(drawing, { frozen }, m, windowBox(e));
    }
  return `${head}<g stroke-width=".8">${pen.parts.join('')}</g></svg>`;
}

/** A small picture of a place of a drawing (y upwards), so many units across, the place marked. */
export function placePicture(drawing: Drawing, at: { x: number; y: number }, across: number): string {
  const [width, height] = [320, 200];
  const half = Math.max(across, Number.MIN_VALUE) / 2;
  const frame = Box2.of(at.x - half, at.y - half * 0.625, at.x + half, at.y + half * 0.625);
  const mark = `<path d="M${width / 2 - 14} ${height / 2}l14 -14l14 14l-14 14z" fill="none" stroke="#97351b" stroke-width="1.6"/>`;
  return previewSvg(drawing, width, height, undefined, frame).replace('</svg>', `${mark}</svg>`);
}

/** How many units of a picture `width` by `height` one unit of the drawing takes. */
export const previewScale = (box: { width: number; height: number }, width: number, height: number): number =>
  Math.min((width - 2 * PAD) / (box.width || 1e-9), (height - 2 * PAD) / (box.height || 1e-9));

/** Where a place of the drawing lies in a picture that is fitted to a box: x to the right, y downwards. */
export function previewMap(
  box: Readonly<Box2>,
  width: number,
  height: number,
): { readonly k: number; at: (x: number, y: number) => readonly [number, number] } {
  const k = previewScale(box, width, height);
  const [ox, oy] = [(width - box.width * k) / 2, (height - box.height * k) / 2];
  return { k, at: (x, y) => [(x - box.minX) * k + ox, height - oy - (y - box.minY) * k] };
}

/** Ground and ink of the night, and how near a line's lightness may come to the ground before it is moved towards the ink. */
const NIGHT = { ground: 0x28211a, ink: 0xf0e6d2, near: 0.3 };

const channels = (rgb: number): [number, number, number] => [rgb >> 16, (rgb >> 8) & 255, rgb & 255];
/** The share of each channel in lightness (ITU-R BT.709). */
const lightness = (rgb: number): number => {
  const [r, g, b] = channels(rgb);
  return (0.2126 * r + 0.7152 * g + 0.0722 * b) / 255;
};

/**
 * A picture of {@link previewSvg} for the night ground: black, which is what no colour is drawn in, becomes the ink, and lines
 * too dark to be seen move halfway towards it. Fills keep their colours.
 */
export function onNight(svg: string): string {
  return svg.replace(/(stroke|fill)="#([0-9a-f]{6})"/g, (whole, what: string, digits: string) => {
    const rgb = parseInt(digits, 16);
    if (rgb === 0) return `${what}="${hex(NIGHT.ink)}"`;
    if (what === 'fill' || Math.abs(lightness(rgb) - lightness(NIGHT.ground)) > NIGHT.near) return whole;
    const [from, to] = [channels(rgb), channels(NIGHT.ink)];
    const mixed = from.reduce((sum, c, i) => (sum << 8) | Math.round((c + to[i]!) / 2), 0);
    return `${what}="${hex(mixed)}"`;
  });
}

class PreviewPen {
  readonly parts: string[] = [];
  private points = 0;
  private readonly k: number;
  private readonly place: ReturnType<typeof previewMap>['at'];

  constructor(
    private readonly box: Box2,
    width: number,
    height: number,
    /** What lies wholly outside the box is not drawn. */
    private readonly only = false,
  ) {
    const map = previewMap(box, width, height);
    [this.k, this.place] = [map.k, map.at];
  }

  private at(x: number, y: number): string {
    const [u, v] = this.place(x, y);
    return `${u.toFixed(1)} ${v.toFixed(1)}`;
  }

  private isOutside({ entity, toWorld }: Visit): boolean {
    const own = new Box2();
    addEntityBounds(entity, toWorld, new BoundsSink(own));
    return !own.empty && !own.meets(this.box);
  }

  /** Draws a space under a map; what is cut to `clip` is drawn chord by chord, without fills. */
  draw(drawing: Drawing, space: WalkOptions, m: Affine = IDENTITY, clip: Box2 | null = null): void {
    walk(
      drawing,
      (v) => {
        if (this.points > MAX_POINTS || (this.only && this.isOutside(v))) return;
        const placed = m === IDENTITY ? v : { ...v, toWorld: compose(m, v.toWorld) };
        this.put(placed, clip ? this.cutPath(placed, clip) : this.path(placed), clip !== null);
      },
      space,
    );
  }

  private path({ entity, toWorld }: Visit): string {
    let d = '';
    this.flatten(entity, toWorld, {
      moveTo: (x, y) => void (d += `M${this.at(x, y)}`),
      lineTo: (x, y) => {
        d += `L${this.at(x, y)}`;
        this.points++;
      },
    });
    return d;
  }

  /** The chords of an entity; those of a pattern are its lines, or where they are too many to be told apart its outline. */
  private flatten(e: Entity, toWorld: Affine, out: ChordSink): void {
    const made = e.kind === 'hatch' ? hatchLines(e, MOST_DASHES) : null;
    if (!made || made.tooDense) return flattenEntity(e, toWorld, 0.3 / this.k, out);
    const m = entityToWorld(e, toWorld);
    const z = e.kind === 'hatch' ? e.elevation : 0;
    for (let s = made.segments, i = 0; i < s.length; i += 4) {
      const [x0, y0] = applyPoint(m, [s[i]!, s[i + 1]!, z]);
      const [x1, y1] = applyPoint(m, [s[i + 2]!, s[i + 3]!, z]);
      out.moveTo(x0, y0, 0);
      out.lineTo(x1, y1, 0);
    }
  }

  private cutPath({ entity, toWorld }: Visit, clip: Box2): string {
    let d = '';
    let [px, py] = [0, 0];
    this.flatten(entity, toWorld, {
      moveTo: (x, y) => void ([px, py] = [x, y]),
      lineTo: (x, y) => {
        const c = clippedChord(clip, px, py, x, y);
        if (c) d += `M${this.at(c[0], c[1])}L${this.at(c[2], c[3])}`;
        [px, py] = [x, y];
        this.points++;
      },
    });
    return d;
  }

  private put({ entity, resolved }: Visit, d: string, bare: boolean): void {
    if (d === '') return;
    // A pattern is lines, in the colour that a hatch would be filled with.
    const pattern = entity.kind === 'hatch' && !entity.solid;
    const solid = entity.kind === 'hatch' || (entity.kind === 'face' && entity.solid);
    const fill = bare || pattern ? null : (resolved.fill ?? (solid ? resolved.stroke : null));
    const drawn = pattern ? (resolved.fill ?? resolved.stroke) : bare ? (resolved.stroke ?? resolved.fill) : null;
    const stroke = drawn ?? (solid ? null : resolved.stroke);
    this.parts.push(
      `<path d="${d}" fill="${fill === null ? 'none' : hex(fill)}" stroke="${stroke === null ? 'none' : hex(stroke)}" fill-rule="evenodd"/>`,
    );
  }
}

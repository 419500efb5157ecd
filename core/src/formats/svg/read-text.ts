import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, applyPoint } from '../../geometry/affine.js';
import type { Appearance } from '../../drawing/appearance.js';
import type { FontRequest, HorizontalAlign, Text, VerticalAlign } from '../../drawing/entity.js';
import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import { lengthOf } from '../../drawing/measures.js';
import type { PathData } from '../../geometry/path.js';
import { transformPath } from '../../geometry/path.js';
import type { StyleSheet } from './css.js';
import { parseLength } from './lengths.js';
import { parsePathData } from './path-data.js';
import type { Style } from './style.js';
import { parseTransform } from './transforms.js';
import type { XmlDocument, XmlElement } from './xml.js';

/** A run of characters that is set from one place. */
interface Run {
  text: string;
  x: number;
  y: number;
  rotation: number;
  style: Style;
  along?: { path: PathData; offset: number };
}

export interface TextContext {
  document: XmlDocument;
  sheet: StyleSheet;
  ctm: Affine;
  style: Style;
  viewport: { width: number; height: number };
  lookOf: (style: Style) => Appearance;
  base: { key: string; layer: string; node?: number };
  newId: () => number;
  /** Something about text that is not carried as the source has it. */
  loss: (reason: string, id: number) => void;
}

export const fontSizeOf = (style: Style): number =>
  parseLength(style.get('font-size') ?? '16', { percentOf: 16, em: 16 }) ?? 16;

/**
 * The text entities of a `text` element: one per run that has a place of its own (`x`, `y`, `dx`, `dy`). Runs that
 * merely follow in another style are joined to the one before, which is reported through `loss`.
 */
export function readText(e: XmlElement, x: TextContext): Text[] {
  const runs: Run[] = [];
  const losses = new Set<string>();
  const preserve = e.attributes.get('space') === 'preserve' || e.foreign.get('space') === 'preserve';
  const visit = (node: XmlElement, style: Style, at: Pick<Run, 'x' | 'y' | 'rotation' | 'along'>): void => {
    const first = (name: string, of: number): number | null => {
      const list = (node.attributes.get(name) ?? '')
        .trim()
        .split(/[\s,]+/)
        .filter(Boolean);
      if (list.length > 1) losses.add('letters placed one by one are set as plain text from the first');
      return list.length ? parseLength(list[0], { percentOf: of, em: fontSizeOf(style) }) : null;
    };
    const px = first('x', x.viewport.width);
    const py = first('y', x.viewport.height);
    const dx = first('dx', x.viewport.width);
    const dy = first('dy', x.viewport.height);
    if (node.attributes.has('rotate')) losses.add('letters turned one by one are set straight');
    let fresh = node === e || px !== null || py !== null || (dy !== null && dy !== 0) || dx !== null;
    at = { ...at, x: (px ?? at.x) + (dx ?? 0), y: (py ?? at.y) + (dy ?? 0) };
    if (node.name === 'textPath') {
      const along = pathOf(node, x.document, style);
      if (along) at = { x: along.path.data[0], y: along.path.data[1], rotation: 0, along };
      else losses.add('text on a path that is not there is set straight');
      fresh = true;
    }
    for (const c of node.children) {
      if (typeof c === 'string') {
        const text = preserve ? c.replace(/[\n\t]/g, ' ') : c.replace(/\s+/g, ' ');
        if (text === '') continue;
        const last = runs[runs.length - 1];
        if (fresh || !last) runs.push({ text, ...at, style });
        else {
          if (last.style !== style && text.trim() !== '')
            losses.add('pieces of one line in different styles take the first style');
          last.text += text;
        }
        fresh = false;
      } else if (c.name === 'tspan' || c.name === 'textPath' || c.name === 'a' || c.name === 'tref') {
        visit(c, style.child(c, x.sheet), at);
        fresh = false;
      }
    }
  };
  visit(e, x.style, { x: 0, y: 0, rotation: 0 });
  const out: Text[] = [];
  for (const run of runs) {
    const text = preserve ? run.text : run.text.replace(/ +/g, ' ').trim();
    if (text.trim() === '') continue;
    const made = textEntity(text, run, x);
    out.push(made);
    for (const reason of losses) x.loss(reason, made.id);
  }
  return out;
}

function textEntity(text: string, run: Run, x: TextContext): Text {
  const { style } = run;
  const m = x.ctm;
  const size = fontSizeOf(style);
  // Text direction and its square: what is left over is a width factor and a slant.
  const c = Math.cos(run.rotation);
  const s = Math.sin(run.rotation);
  const ux = m[0] * c + m[3] * s;
  const uy = m[1] * c + m[4] * s;
  const vx = -m[0] * s + m[3] * c;
  const vy = -m[1] * s + m[4] * c;
  const lu = Math.hypot(ux, uy);
  const height = Math.abs(ux * vy - uy * vx) / (lu || 1);
  const slant = (ux * vx + uy * vy) / (lu || 1);
  const oblique = Math.atan2(-slant, height);
  const near = (v: number): number => (Math.abs(v - 1) < 1e-9 ? 1 : v);
  const id = x.newId();
  if (ux * vy - uy * vx < 0) x.loss('mirrored text is set readable', id);
  const apart = style.get('letter-spacing');
  const spacing = apart && apart !== 'normal' ? (parseLength(apart, { percentOf: size, em: size }) ?? 0) * lu : 0;
  const along = run.along && { path: transformPath(run.along.path, m), offset: run.along.offset * lu };
  return {
    kind: 'text',
    ...x.base,
    id,
    look: x.lookOf(style),
    text,
    at: applyPoint(m, [run.x, run.y, 0]),
    size: size * height,
    sizeOf: 'em',
    rotation: Math.atan2(uy, ux),
    widthFactor: height > 0 ? near(lu / height) : 1,
    oblique: Math.abs(oblique) < 1e-12 ? 0 : oblique,
    horizontal: horizontalOf(style.get('text-anchor')),
    vertical: verticalOf(style.get('dominant-baseline')),
    font: fontOf(style),
    ...(spacing !== 0 && { spacing }),
    ...(along && { along }),
  };
}

const horizontalOf = (anchor: string | undefined): HorizontalAlign =>
  anchor === 'middle' ? 'centre' : anchor === 'end' ? 'right' : 'left';

function verticalOf(baseline: string | undefined): VerticalAlign {
  if (baseline === 'middle' || baseline === 'central') return 'middle';
  if (baseline === 'hanging' || baseline === 'text-before-edge' || baseline === 'text-top') return 'top';
  if (baseline === 'text-after-edge' || baseline === 'text-bottom' || baseline === 'ideographic') return 'bottom';
  return 'baseline';
}

function fontOf(style: Style): FontRequest {
  const family = (style.get('font-family') ?? 'sans-serif')
    .split(',')[0]
    .trim()
    .replace(/^["']|["']$/g, '');
  const w = style.get('font-weight') ?? 'normal';
  const weight = w === 'bold' || w === 'bolder' ? 700 : Number(w) || 400;
  return { family, weight, italic: /italic|oblique/.test(style.get('font-style') ?? '') };
}

/** The path that a `textPath` refers to, under its own transform, and how far along it the text begins. */
function pathOf(node: XmlElement, document: XmlDocument, style: Style): { path: PathData; offset: number } | null {
  const id = (node.attributes.get('href') ?? node.foreign.get('href') ?? '').replace(/^#/, '');
  const e = document.byId.get(id);
  if (e?.name !== 'path') return null;
  const { path } = parsePathData(e.attributes.get('d') ?? '');
  if (path.cmds.length < 2) return null;
  const placed = transformPath(path, parseTransform(e.attributes.get('transform')) ?? IDENTITY);
  const stated = node.attributes.get('startOffset');
  if (stated === undefined) return { path: placed, offset: 0 };
  const whole = stated.trim().endsWith('%')
    ? lengthOf({ kind: 'path', path: placed, id: 0, layer: '', look: DRAFTING_DEFAULT })
    : 0;
  return { path: placed, offset: parseLength(stated, { percentOf: whole, em: fontSizeOf(style) }) ?? 0 };
}

import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, planar } from '../../geometry/affine.js';
import type { Box2 } from '../../geometry/box.js';
import type { GradientStop, Paint, Rgb } from '../../drawing/appearance.js';
import { NO_PAINT, meanColour } from '../../drawing/appearance.js';
import { parseColour } from './colours.js';
import type { StyleSheet } from './css.js';
import { parseLength } from './lengths.js';
import type { State } from './state.js';
import { linked } from './state.js';
import { Style } from './style.js';
import { parseTransform } from './transforms.js';
import type { XmlDocument, XmlElement } from './xml.js';
import { elementsOf } from './xml.js';

/** Resolves `fill` and `stroke` values, gradients and patterns included. */
export class PaintReader {
  private servers = new Map<string, Paint>();

  constructor(
    private readonly document: XmlDocument,
    private readonly sheet: StyleSheet,
  ) {}

  /** The paint, and the opacity that was part of its colour. */
  read(
    value: string | undefined,
    fallback: string,
    style: Style,
    context?: { fill: Paint; stroke: Paint },
  ): { paint: Paint; alpha: number } {
    let text = (value ?? fallback).trim();
    if (text === 'none' || text === 'transparent') return { paint: NO_PAINT, alpha: 1 };
    const url = /^url\(\s*["']?#([^"')]+)["']?\s*\)\s*(.*)$/.exec(text);
    if (url) {
      const server = this.server(url[1]!);
      if (server) return { paint: server, alpha: 1 };
      text = url[2] || 'none';
      if (text === 'none') return { paint: NO_PAINT, alpha: 1 };
    }
    if (text === 'context-fill') return { paint: context?.fill ?? NO_PAINT, alpha: 1 };
    if (text === 'context-stroke') return { paint: context?.stroke ?? NO_PAINT, alpha: 1 };
    if (/^currentcolor$/i.test(text)) text = style.get('color') ?? 'black';
    const colour = parseColour(text) ?? parseColour(fallback === 'none' ? '#000000' : fallback);
    return colour ? { paint: { kind: 'rgb', rgb: colour.rgb }, alpha: colour.alpha } : { paint: NO_PAINT, alpha: 1 };
  }

  private server(id: string): Paint | null {
    const cached = this.servers.get(id);
    if (cached) return cached;
    const e = this.document.byId.get(id);
    let paint: Paint | null = null;
    if (e?.name === 'linearGradient' || e?.name === 'radialGradient') {
      const stops = this.stops(e, new Set());
      if (stops.length === 0) return NO_PAINT;
      const form = e.name === 'linearGradient' ? 'linear' : 'radial';
      paint = { kind: 'gradient', form, stops, rgb: meanColour(stops), id };
    } else if (e?.name === 'pattern') paint = { kind: 'pattern', rgb: this.patternColour(e), id };
    if (paint) this.servers.set(id, paint);
    return paint;
  }

  /** A gradient where it lies on a shape: `box` is the shape's in its user space. Without a box it has no place. */
  placed(
    paint: Extract<Paint, { kind: 'gradient' }>,
    box: () => Box2 | null,
    state: Pick<State, 'ctm' | 'viewport' | 'em'>,
  ): Paint {
    const chain: XmlElement[] = [];
    for (let e = this.document.byId.get(paint.id); e && !chain.includes(e); e = linked(this.document, e)) chain.push(e);
    const get = (name: string): string | undefined => chain.find((e) => e.attributes.has(name))?.attributes.get(name);
    const byBox = get('gradientUnits') !== 'userSpaceOnUse';
    const { width, height } = state.viewport;
    const number = (name: string, otherwise: string, percentOf: number): number => {
      const text = get(name) ?? otherwise;
      if (!byBox) return parseLength(text, { percentOf, em: state.em }) ?? 0;
      return text.trim().endsWith('%') ? parseFloat(text) / 100 : parseFloat(text) || 0;
    };
    let map: Affine;
    let focus: [number, number, number] | undefined;
    if (paint.form === 'linear') {
      const [x1, y1] = [number('x1', '0%', width), number('y1', '0%', height)];
      const [dx, dy] = [number('x2', '100%', width) - x1, number('y2', '0%', height) - y1];
      map = planar(dx, dy, -dy, dx, x1, y1);
    } else {
      const [cx, cy] = [number('cx', '50%', width), number('cy', '50%', height)];
      const r = number('r', '50%', Math.sqrt((width * width + height * height) / 2));
      map = planar(r, 0, 0, r, cx, cy);
      const [fx, fy] = [
        get('fx') === undefined ? cx : number('fx', '', width),
        get('fy') === undefined ? cy : number('fy', '', height),
      ];
      if (r > 0) focus = [(fx - cx) / r, (fy - cy) / r, number('fr', '0%', r) / r];
    }
    map = compose(parseTransform(get('gradientTransform')) ?? IDENTITY, map);
    if (byBox) {
      const b = box();
      if (!b || !(b.width > 0) || !(b.height > 0)) return NO_PAINT;
      map = compose(planar(b.width, 0, 0, b.height, b.minX, b.minY), map);
    }
    map = compose(state.ctm, map);
    const spread = get('spreadMethod');
    return {
      ...paint,
      place: {
        map: [map[0], map[1], map[3], map[4], map[9], map[10]],
        ...(focus && (focus[0] !== 0 || focus[1] !== 0 || focus[2] !== 0) && { focus }),
        spread: spread === 'reflect' || spread === 'repeat' ? spread : 'pad',
      },
    };
  }

  private stops(e: XmlElement, seen: Set<XmlElement>): GradientStop[] {
    if (seen.has(e)) return [];
    seen.add(e);
    const own = elementsOf(e).filter((c) => c.name === 'stop');
    if (own.length === 0) {
      const from = this.document.byId.get((e.attributes.get('href') ?? e.foreign.get('href') ?? '').replace(/^#/, ''));
      return from ? this.stops(from, seen) : [];
    }
    return own.map((s) => {
      const style = Style.initial.child(s, this.sheet);
      const colour = parseColour(style.get('stop-color') ?? 'black') ?? { rgb: 0, alpha: 1 };
      const offset = s.attributes.get('offset') ?? '0';
      const at = offset.trim().endsWith('%') ? parseFloat(offset) / 100 : parseFloat(offset);
      return {
        offset: Math.min(1, Math.max(0, at || 0)),
        rgb: colour.rgb,
        opacity: colour.alpha * Number(style.get('stop-opacity') ?? 1),
      };
    });
  }

  /** The first plain fill inside a pattern stands for it. */
  private patternColour(e: XmlElement): Rgb {
    for (const c of elementsOf(e)) {
      const value = Style.initial.child(c, this.sheet).get('fill');
      const colour = value && value !== 'none' ? parseColour(value) : null;
      if (colour) return colour.rgb;
    }
    return 0x808080;
  }
}

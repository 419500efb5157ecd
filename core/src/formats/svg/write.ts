import type { Affine } from '../../geometry/affine.js';
import { applyPoint, applyVector, compose, planarSimilarity, scaling, translation } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import type { PatternFill } from '../../geometry/pattern-fill.js';
import { nurbsFault } from '../../geometry/nurbs.js';
import type { PathData } from '../../geometry/path.js';
import { Cmd, CMD_LENGTH, transformPath } from '../../geometry/path.js';
import type { CurveSink } from '../../drawing/curves.js';
import { curvesOf, entityToWorld } from '../../drawing/curves.js';
import type { Drawing } from '../../drawing/drawing.js';
import { layerKey } from '../../drawing/drawing.js';
import type { Entity, Hatch, RichText, Spline, Text } from '../../drawing/entity.js';
import { Ledger } from '../../drawing/ledger.js';
import { BoundsSink, addEntityBounds } from '../../drawing/measures.js';
import { outlinePath } from '../../drawing/outline-path.js';
import type { Visit } from '../../drawing/resolve.js';
import { paintRgb, walk } from '../../drawing/resolve.js';
import { hatchLines } from '../../drawing/hatch-area.js';
import { hex } from '../../drawing/palette.js';
import { rayWithin } from '../../drawing/rays.js';
import { unitOf } from '../../drawing/units.js';
import { linesOf } from '../../text/layout.js';
import type { Work, WriteOptions, Writing } from '../format.js';
import { checkStop } from '../format.js';
import { cubicPieces } from '../../geometry/nurbs-cubics.js';
import { SvgTree } from './write-tree.js';
import type { Properties } from './write-style.js';
import { StyleWriter } from './write-style.js';

const FLIP: Affine = scaling(1, -1, 1);

/** For kinds that are drawn by straight lines only. */
const NO_CURVES: CurveSink = { move() {}, line() {}, arc() {}, cubic() {}, nurbs() {} };

/**
 * Writes model space as SVG 1.1 at true size. User units are the drawing's own, y turned over so that the drawing's
 * origin is the origin of user space; layers become groups in order, inserts are expanded into groups.
 */
export function writeSvg(drawing: Drawing, options: WriteOptions, work?: Work): Writing {
  return new SvgWriter(drawing, options, work).write();
}

/** `value` with at most `decimals` digits after the point and no needless ones. */
export function shortNumber(value: number, decimals: number): string {
  let text = '';
  if (decimals <= 6 && value < 1e9 && value > -1e9) {
    // Within 15 significant digits the shortest text of the rounded double has no digit too many.
    const k = POWERS[decimals];
    text = String(Math.round(value * k) / k);
  } else {
    text = value.toFixed(Math.min(20, decimals));
    if (text.includes('.')) text = text.replace(/\.?0+$/, '');
  }
  if (text === '-0') return '0';
  if (text.startsWith('0.')) return text.slice(1);
  return text.startsWith('-0.') ? '-' + text.slice(2) : text.includes('e') ? value.toFixed(decimals) : text;
}

const POWERS = [1, 10, 100, 1e3, 1e4, 1e5, 1e6];

class SvgWriter {
  private readonly ledger = new Ledger('write');
  private readonly bounds = new BoundsSink(new Box2());
  private readonly styles: StyleWriter;
  private readonly tree: SvgTree;
  private readonly number: (v: number) => string;
  private readonly tolerance: number;

  constructor(
    private readonly drawing: Drawing,
    private readonly options: WriteOptions,
    private readonly work: Work | undefined,
  ) {
    const decimals = options.decimals ?? 6;
    this.number = (v) => shortNumber(v, decimals);
    this.styles = new StyleWriter(drawing, options.unit, this.number);
    this.tree = new SvgTree(drawing, options.style ?? 'plain');
    walk(drawing, (v) => {
      addEntityBounds(v.entity, v.toWorld, this.bounds);
      if (v.entity.kind === 'text' || v.entity.kind === 'richText') this.addTextBounds(v.entity, v);
    });
    this.tolerance = Math.max(this.bounds.box.diagonal * 1e-7, 1e-9);
  }

  /** The page must hold text too: each line by the width of its font or stand-in. */
  private addTextBounds(e: Text | RichText, v: Visit): void {
    const m = entityToWorld(e, v.toWorld);
    for (const line of linesOf(e, this.drawing, this.options.fonts)) {
      const width =
        line.stretchTo ?? this.options.fonts.outline(line.text, line.family).advance * line.em * line.widthFactor;
      const from = line.anchor === 'left' ? 0 : line.anchor === 'centre' ? -width / 2 : -width;
      const [c, s] = [Math.cos(line.rotation), Math.sin(line.rotation)];
      for (const [a, b] of [
        [from, -0.25],
        [from + width, -0.25],
        [from, 0.8],
        [from + width, 0.8],
      ]) {
        const p = project(m, [line.x + a * c - b * line.em * s, line.y + a * s + b * line.em * c, 0]);
        this.bounds.box.add(p[0], p[1]);
      }
    }
  }

  write(): Writing {
    const { drawing } = this;
    let n = 0;
    const visit = (v: Visit): void => {
      if (++n % 2048 === 0) {
        checkStop(this.work);
        this.work?.onProgress?.(Math.min(1, n / (drawing.entities.length + 1)));
      }
      this.entity(v);
    };
    for (const l of drawing.layers) this.tree.openLayer(l);
    // Drafting layers become one group each; the order of a painted drawing is kept instead.
    if (drawing.format === 'dxf') {
      const byLayer = new Map<string, Entity[]>(drawing.layers.map((l) => [layerKey(drawing, l.name), []]));
      for (const e of drawing.entities) {
        const list = byLayer.get(layerKey(drawing, e.layer));
        if (list) list.push(e);
        else byLayer.set(layerKey(drawing, e.layer), [e]);
      }
      walk({ ...drawing, entities: [...byLayer.values()].flat() }, visit, {
        hidden: true,
        onCut: (i, why) => this.cut(i, why),
      });
    } else walk(drawing, visit, { hidden: true });
    const sheets = drawing.entities.filter((e) => e.sheet !== undefined).length;
    if (sheets > 0) {
      this.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: 'entities on sheets (paper space) are left out',
        count: sheets,
        onPurpose: true,
      });
    }
    return { bytes: this.document(), ledger: this.ledger.rows };
  }

  private cut(insert: Entity, why: string): void {
    const reason = {
      recursive: 'inserts of a block in itself',
      deep: 'inserts nested too deep',
      missing: 'inserts of a block that is not there',
      many: 'inserts beyond two million',
    }[why];
    this.ledger.add({ carryOver: 'links', action: 'dropped', reason: reason ?? why, id: insert.id });
  }

  private document(): Uint8Array {
    const { options, number } = this;
    const u = unitOf(options.unit);
    const box = this.bounds.box.empty ? Box2.of(0, 0, 100, 100) : this.bounds.box;
    const w = box.width || 1;
    const h = box.height || 1;
    const own = ['mm', 'cm', 'in'].includes(options.unit);
    const physical = (v: number): string => (own ? number(v) + options.unit : number(v * u.mm) + 'mm');
    const title = options.title ? `<title>${escapeXml(options.title)}</title>\n` : '';
    const text =
      '<?xml version="1.0" encoding="UTF-8"?>\n' +
      `<svg xmlns="http://www.w3.org/2000/svg" version="1.1" width="${physical(w)}" height="${physical(h)}" ` +
      `viewBox="${number(box.minX)} ${number(-box.maxY)} ${number(w)} ${number(h)}">\n` +
      title +
      this.tree.render() +
      '</svg>\n';
    return new TextEncoder().encode(text);
  }

  private became(e: Entity, to: string, reason: string): void {
    this.ledger.add({
      carryOver: 'curves',
      action: 'changed',
      onPurpose: true,
      reason,
      becomes: { from: e.kind, to, gone: 1, entities: 1 },
      id: e.id,
    });
  }

  private entity(v: Visit): void {
    const { entity: e, resolved } = v;
    const m = compose(FLIP, entityToWorld(e, v.toWorld));
    const put = (name: string, attributes: Properties, filled = false): void => {
      const style = this.styles.of(e, resolved, filled);
      // The fill rule says something only where subpaths can lie inside each other.
      const { 'fill-rule': _rule, ...rest } = style;
      this.tree.put(v, name, attributes, name === 'path' ? style : rest);
    };
    const { number } = this;
    for (const paint of [e.look.fill, e.look.stroke]) {
      if (paint.kind === 'gradient' || paint.kind === 'pattern') {
        this.ledger.add({
          carryOver: 'colour',
          action: 'dropped',
          reason: `${paint.kind}s are replaced by one plain colour`,
          id: e.id,
        });
      }
    }
    if (e.extended) {
      this.ledger.add({ carryOver: 'links', action: 'dropped', reason: 'extended data has no place in SVG', id: e.id });
    }
    if (e.thickness) {
      this.ledger.add({ carryOver: 'curves', action: 'dropped', reason: 'thickness has no place in SVG', id: e.id });
    }
    switch (e.kind) {
      case 'line': {
        const [a, b] = [project(m, e.start), project(m, e.end)];
        return put('line', { x1: number(a[0]), y1: number(a[1]), x2: number(b[0]), y2: number(b[1]) });
      }
      case 'point': {
        const p = project(m, e.at);
        this.became(e, 'path', 'points written as dots');
        return put('path', { d: `M${number(p[0])} ${number(p[1])}h0` });
      }
      case 'circle': {
        const k = planarSimilarity(m);
        if (k === null) break;
        const c = project(m, e.centre);
        return put('circle', { cx: number(c[0]), cy: number(c[1]), r: number(e.radius * k) });
      }
      case 'polyline':
        if (e.widths) {
          this.ledger.add({
            carryOver: 'colour',
            action: 'dropped',
            reason: 'widths along polylines are not written to SVG',
            id: e.id,
          });
        }
        if (!e.bulges) {
          const pts: string[] = [];
          for (let i = 0; i < e.points.length; i += e.dim) {
            const p = project(m, [e.points[i], e.points[i + 1], e.dim === 3 ? e.points[i + 2] : e.elevation]);
            pts.push(number(p[0]) + ',' + number(p[1]));
          }
          return put(e.closed ? 'polygon' : 'polyline', { points: pts.join(' ') });
        }
        break;
      case 'spline':
        return this.spline(e, m, put);
      case 'text':
      case 'richText':
        return this.text(e, v, m);
      case 'hatch': {
        const pattern = hatchLines(e);
        if (pattern) return this.patternHatch(e, v, m, pattern);
        const d = e.loops.map((l) => this.pathText(transformPath(l.path, raised(m, e.elevation)))).join('');
        this.became(e, 'path', 'solid hatches written as filled paths');
        return put('path', { d }, true);
      }
      case 'face': {
        if (e.solid) {
          this.became(e, 'polyline', 'filled corners written as filled polygons');
          const pts = e.corners.map((c) => project(m, c)).map((p) => number(p[0]) + ',' + number(p[1]));
          return put('polygon', { points: pts.join(' ') }, true);
        }
        break;
      }
      case 'insert':
        this.became(e, 'group', 'blocks written expanded, as groups');
        return;
      case 'opaque':
        this.ledger.add(
          e.picture || e.drawn
            ? {
                carryOver: 'text',
                action: 'changed',
                onPurpose: true,
                reason: e.picture
                  ? `${e.type} written as its picture`
                  : `${e.type} written as the lines and texts that show it`,
                becomes: { from: 'opaque', to: 'group', gone: 1, entities: 1 },
                id: e.id,
              }
            : {
                carryOver: 'curves',
                action: 'dropped',
                reason: `${e.type} cannot be written to SVG`,
                becomes: { from: 'opaque', to: 'nothing', gone: 1, entities: 0 },
                id: e.id,
              },
        );
        return;
      case 'dimension':
      case 'leader':
        this.became(e, 'group', `${e.kind}s written as the lines and texts that show them`);
        return;
      case 'ray': {
        const at = applyPoint(v.toWorld, e.at);
        const ends = rayWithin(at, applyVector(v.toWorld, e.direction), e.both, this.bounds.box);
        this.became(e, ends ? 'line' : 'nothing', 'lines without end written as far as the drawing reaches');
        if (!ends) return;
        const [a, b] = ends;
        return put('line', { x1: number(a[0]), y1: number(-a[1]), x2: number(b[0]), y2: number(-b[1]) });
      }
      case 'viewport':
        return;
      case 'mesh':
      case 'image': {
        let d = '';
        curvesOf(e, v.toWorld, {
          ...NO_CURVES,
          move: (x, y) => void (d += `M${this.list([x, -y])}`),
          line: (x, y) => void (d += `L${this.list([x, -y])}`),
        });
        if (e.kind === 'image') {
          this.ledger.add({
            carryOver: 'links', action: 'dropped', onPurpose: true, id: e.id,
            reason: e.wipeout ? 'wipeouts written as their outlines' : 'pictures written as their frames',
          }); // prettier-ignore
        }
        this.became(
          e,
          'path',
          e.kind === 'mesh' ? 'meshes written by their edges' : 'frames of pictures written as paths',
        );
        return put('path', { d });
      }
    }
    const outline = outlinePath(e);
    const arc = e.kind === 'arc' ? arcPath(e) : outline;
    if (!arc) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'dropped',
        reason: `${e.kind} cannot be written to SVG in this position`,
        id: e.id,
      });
      return;
    }
    const lift =
      e.kind === 'polyline'
        ? e.elevation
        : e.kind === 'arc' || e.kind === 'circle' || e.kind === 'ellipse'
          ? e.centre[2]
          : 0;
    if (e.kind !== 'path') this.became(e, 'path', `${e.kind}s written as paths with true arcs`);
    put('path', { d: this.pathText(transformPath(arc, raised(m, lift))) });
  }

  /** A pattern hatch as one path of its lines. */
  private patternHatch(e: Hatch, v: Visit, m: Affine, pattern: PatternFill): void {
    const at = raised(m, e.elevation);
    let d = '';
    const s = pattern.segments;
    for (let i = 0; i < s.length; i += 4) {
      const [a, b] = [project(at, [s[i], s[i + 1], 0]), project(at, [s[i + 2], s[i + 3], 0])];
      d += `M${this.list(a.slice(0, 2))}L${this.list(b.slice(0, 2))}`;
    }
    this.became(e, 'path', 'pattern hatches written as their lines');
    if (pattern.tooDense) {
      this.ledger.add({
        carryOver: 'colour', action: 'approximated', id: e.id,
        reason: 'hatch patterns too dense to be drawn line by line were cut short',
      }); // prettier-ignore
    }
    const { resolved: r } = v;
    const outline = { ...r, stroke: r.fill ?? r.stroke, fill: null };
    this.tree.put(v, 'path', { d: d || 'M0 0' }, this.styles.of(e, outline, false));
  }

  private spline(e: Spline, m: Affine, put: (name: string, a: Properties) => void): void {
    const { number } = this;
    if (nurbsFault(e) !== null) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        reason: 'splines whose numbers do not fit together are written by their points',
        id: e.id,
      });
      const p = e.fitPoints && e.fitPoints.length >= 6 ? e.fitPoints : e.points;
      const pts: string[] = [];
      for (let i = 0; i < p.length; i += 3) {
        const q = project(m, [p[i], p[i + 1], p[i + 2]]);
        pts.push(number(q[0]) + ',' + number(q[1]));
      }
      this.became(e, 'polyline', 'splines written by their points');
      return put('polyline', { points: pts.join(' ') });
    }
    const points = new Float64Array(e.points.length);
    for (let i = 0; i < points.length; i += 3)
      points.set([...project(m, [e.points[i], e.points[i + 1], e.points[i + 2]]), 0], i);
    const { pieces, deviation } = cubicPieces({ ...e, points }, this.tolerance);
    if (deviation > 0) {
      this.ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        onPurpose: true,
        reason: 'rational or high-degree splines written as cubics',
        deviation: { value: Number(deviation.toPrecision(2)), unit: this.options.unit },
        id: e.id,
      });
    }
    this.became(e, 'path', 'splines written as Bézier paths');
    let d = '';
    let last: number[] = [NaN, NaN];
    for (const { start, numbers } of pieces) {
      if (start[0] !== last[0] || start[1] !== last[1]) if (d === '') d += `M${this.list(start)}`;
      d += 'LQC'[numbers.length / 2 - 1] + this.list(numbers);
      last = numbers.slice(-2);
    }
    put('path', { d: e.closed ? d + 'Z' : d });
  }

  private list(numbers: readonly number[]): string {
    let out = '';
    for (const n of numbers) {
      const t = this.number(n);
      out += out === '' || t[0] === '-' ? t : ' ' + t;
    }
    return out;
  }

  private pathText(path: PathData): string {
    let d = '';
    let at = 0;
    for (const cmd of path.cmds) {
      const n = path.data.subarray(at, at + CMD_LENGTH[cmd]);
      at += CMD_LENGTH[cmd];
      if (cmd === Cmd.Close) d += 'Z';
      else if (cmd === Cmd.Arc) {
        const degrees = (n[2] * 180) / Math.PI;
        d += `A${this.list([n[0], n[1], n[0] === n[1] ? 0 : degrees])} ${n[3]} ${n[4]} ${this.list([n[5], n[6]])}`;
      } else d += 'MLQC'[cmd] + this.list(Array.from(n));
    }
    return d;
  }

  private text(e: Text | RichText, v: Visit, m: Affine): void {
    const { number } = this;
    const lines = linesOf(e, this.drawing, this.options.fonts);
    const paint = v.resolved.fill ?? v.resolved.stroke ?? 0;
    if (e.kind === 'richText') {
      this.ledger.add({
        carryOver: 'text', action: 'changed', onPurpose: true,
        reason: 'rich text written as a text per line and style',
        becomes: { from: 'richText', to: 'text', gone: 1, entities: lines.filter((l) => l.text.trim() !== '').length },
        id: e.id,
      }); // prettier-ignore
    } else if (e.along || e.spacing) {
      this.ledger.add({
        carryOver: 'text', action: 'changed', onPurpose: true,
        reason: e.along ? 'text along a path written letter by letter' : 'spaced letters written one by one',
        becomes: { from: 'text', to: 'text', gone: 1, entities: lines.length },
        id: e.id,
      }); // prettier-ignore
    } else if (e.sizeOf === 'capital') {
      this.ledger.add({
        carryOver: 'text', action: 'changed', onPurpose: true,
        reason: 'heights of capitals written as font sizes (em), by the metrics of the font or its stand-in',
        id: e.id,
      }); // prettier-ignore
    }
    for (const line of lines) {
      if (line.text.trim() === '') continue;
      const place = compose(m, translation(line.x, line.y, 0));
      // From text space (x right, y down, as SVG sets glyphs) to the page.
      const c = Math.cos(line.rotation);
      const s = Math.sin(line.rotation);
      const slant = Math.tan(line.oblique);
      const local: Affine = [
        c * line.widthFactor,
        s * line.widthFactor,
        0,
        s - c * slant,
        -c - s * slant,
        0,
        0,
        0,
        1,
        0,
        0,
        0,
      ];
      const t = compose(place, local);
      const k = planarSimilarity(t);
      const upright = k !== null && Math.abs(t[1]) < 1e-12 * k && t[0] > 0 && t[4] > 0;
      const attributes: Properties = {};
      if (upright) {
        attributes['x'] = number(t[9]);
        attributes['y'] = number(t[10]);
      } else
        attributes['transform'] =
          `matrix(${[t[0], t[1], t[3], t[4]].map((n) => shortNumber(n, 9)).join(' ')} ${number(t[9])} ${number(t[10])})`;
      if (line.stretchTo) {
        attributes['textLength'] = number(line.stretchTo);
        attributes['lengthAdjust'] = 'spacingAndGlyphs';
      }
      const own = line.paint && line.paint.kind !== 'byBlock' ? paintRgb(line.paint) : null;
      const style: Properties = {
        fill: hex(own ?? paint),
        'font-family': familyList(line.family),
        'font-size': number(line.em * (upright ? k! : 1)),
      };
      if (line.anchor !== 'left') style['text-anchor'] = line.anchor === 'centre' ? 'middle' : 'end';
      if (e.kind === 'text' && e.font && e.font.weight !== 400) style['font-weight'] = String(e.font.weight);
      if (e.kind === 'text' && e.font?.italic) style['font-style'] = 'italic';
      const marks = [line.underline && 'underline', line.overline && 'overline', line.strike && 'line-through'];
      if (marks.some(Boolean)) style['text-decoration'] = marks.filter(Boolean).join(' ');
      if (v.resolved.fillOpacity < 1) style['fill-opacity'] = number(v.resolved.fillOpacity);
      this.tree.put(v, 'text', attributes, style, line.text);
    }
  }
}

const project = (m: Affine, p: readonly [number, number, number]): [number, number] => [
  m[0] * p[0] + m[3] * p[1] + m[6] * p[2] + m[9],
  m[1] * p[0] + m[4] * p[1] + m[7] * p[2] + m[10],
];

const raised = (m: Affine, z: number): Affine => (z === 0 ? m : compose(m, translation(0, 0, z)));

/** A circular arc as a path; a whole turn as two halves. */
function arcPath(e: Extract<Entity, { kind: 'arc' }>): PathData {
  let sweep = (e.end - e.start) % (2 * Math.PI);
  if (sweep <= 0) sweep += 2 * Math.PI;
  const at = (t: number): [number, number] => [
    e.centre[0] + e.radius * Math.cos(t),
    e.centre[1] + e.radius * Math.sin(t),
  ];
  const r = e.radius;
  const from = at(e.start);
  const to = sweep > 2 * Math.PI - 1e-12 ? from : at(e.end);
  const half = at(e.start + sweep / 2);
  const whole = to === from;
  const data = whole
    ? [...from, r, r, 0, 0, 1, ...half, r, r, 0, 0, 1, ...to]
    : [...from, r, r, 0, sweep > Math.PI ? 1 : 0, 1, ...to];
  return {
    cmds: Uint8Array.from(whole ? [Cmd.Move, Cmd.Arc, Cmd.Arc] : [Cmd.Move, Cmd.Arc]),
    data: Float64Array.from(data),
  };
}

/** The family, quoted where its name asks for it, and a generic one to fall back to. */
const familyList = (family: string): string => {
  if (/^(sans-serif|serif|monospace|cursive|fantasy)$/.test(family)) return family;
  return (/[^\w -]|^\d/.test(family) ? `'${family.replace(/['"\\]/g, '')}'` : family) + ', sans-serif';
};

export const escapeXml = (text: string): string =>
  text

    .replace(/[\x00-\x08\x0b\x0c\x0e-\x1f]/g, '\ufffd')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;');

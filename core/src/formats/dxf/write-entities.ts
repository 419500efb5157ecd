import type { Vec3 } from '../../geometry/vector.js';
import type { Appearance, Paint } from '../../drawing/appearance.js';
import { outlinePath } from '../../drawing/outline-path.js';
import { lengthOf } from '../../drawing/measures.js';
import type { Entity, Hatch, Path, Polyline, Spline, Text } from '../../drawing/entity.js';
import type { Ledger } from '../../drawing/ledger.js';
import { curveKey } from '../../drawing/ledger.js';
import { paintRgb } from '../../drawing/resolve.js';
import { exactIndex, hex, nearestIndex } from '../../drawing/palette.js';
import type { FontBook } from '../../text/fonts.js';
import type { Handles } from './handles.js';
import type { NameTable } from './names.js';
import { degreesOf } from './numbers.js';
import { fillLoops, splitSubpaths } from '../../geometry/path.js';
import { draftingCurve } from './path-drafting.js';
import type { TagWriter } from './tag-writer.js';
import { encodeText } from './write-text.js';
import { nearestWeight } from './weights.js';
import { writeHatch } from './write-hatch.js';

/** What entity writers share. */
export interface EntityContext {
  out: TagWriter;
  ledger: Ledger;
  handles: Handles;
  layers: NameTable;
  blocks: NameTable;
  linetypes: NameTable;
  styles: NameTable;
  knownLinetypes: ReadonlySet<string>;
  fonts: FontBook;
  sameFormat: boolean;
  /** True colours need version 2004. */
  trueColour: boolean;
  /** Millimetres per drawing unit, for widths stated in drawing units. */
  mmPerUnit: number;
  /** Spline edges of hatches count their fit points from version 2010 on. */
  splineFit: boolean;
}

const HORIZONTAL = ['left', 'centre', 'right', 'aligned', 'middle', 'fit'];
const VERTICAL = ['baseline', 'bottom', 'middle', 'top'];

/** Writes one entity (or the several it becomes) into the space of `owner`. */
export function writeEntity(x: EntityContext, e: Entity, owner: string): void {
  const { out } = x;
  switch (e.kind) {
    case 'line':
      head(x, 'LINE', e, owner, 'AcDbLine');
      out.point(10, e.start);
      out.point(11, e.end);
      return tail(x, e);
    case 'point':
      head(x, 'POINT', e, owner, 'AcDbPoint');
      out.point(10, e.at);
      return tail(x, e);
    case 'circle':
      fillOf(x, e, owner);
      head(x, 'CIRCLE', e, owner, 'AcDbCircle');
      out.point(10, e.centre);
      out.number(40, e.radius);
      return tail(x, e);
    case 'arc':
      head(x, 'ARC', e, owner, 'AcDbCircle');
      out.point(10, e.centre);
      out.number(40, e.radius);
      normal(x, e);
      out.string(100, 'AcDbArc');
      out.number(50, degreesOf(e.start));
      out.number(51, degreesOf(e.end));
      return extended(x, e);
    case 'ellipse':
      fillOf(x, e, owner);
      head(x, 'ELLIPSE', e, owner, 'AcDbEllipse');
      out.point(10, e.centre);
      out.point(11, e.major);
      if (e.normal) out.point(210, e.normal);
      out.number(40, e.ratio);
      out.number(41, e.start);
      out.number(42, e.end);
      return extended(x, e);
    case 'polyline':
      fillOf(x, e, owner);
      return e.dim === 2 ? lightPolyline(x, e, owner) : spacePolyline(x, e, owner);
    case 'spline':
      return spline(x, e, owner);
    case 'path':
      return path(x, e, owner);
    case 'hatch':
      return writeHatch(x, e, owner);
    case 'face': {
      head(x, e.solid ? 'SOLID' : '3DFACE', e, owner, e.solid ? 'AcDbTrace' : 'AcDbFace');
      const [a, b, c, d = c] = e.corners;
      const order = e.solid && e.corners.length === 4 ? [a, b, d, c] : [a, b, c, d];
      order.forEach((p, i) => out.point(10 + i, p));
      return tail(x, e);
    }
    case 'text':
      return text(x, e, owner);
    case 'richText':
      head(x, 'MTEXT', e, owner, 'AcDbMText');
      out.point(10, e.at);
      out.number(40, e.size);
      out.number(41, e.width);
      out.integer(
        71,
        1 + ['left', 'centre', 'right'].indexOf(e.horizontal) + 3 * ['top', 'middle', 'bottom'].indexOf(e.vertical),
      );
      for (const piece of chunks(e.content, 250).slice(0, -1)) out.string(3, piece);
      out.string(1, chunks(e.content, 250).at(-1) ?? '');
      out.string(7, x.styles.nameFor(e.style ?? 'Standard'));
      if (e.normal) out.point(210, e.normal);
      out.number(50, degreesOf(e.rotation));
      out.integer(73, 1);
      out.number(44, e.lineSpacing);
      return extended(x, e);
    case 'insert': {
      const handle = head(x, 'INSERT', e, owner, e.columns * e.rows > 1 ? 'AcDbMInsertBlock' : 'AcDbBlockReference');
      if (e.attributes.length > 0) out.integer(66, 1);
      out.string(2, x.blocks.nameFor(e.block));
      out.point(10, e.at);
      e.scale.forEach((k, i) => out.number(41 + i, k));
      out.number(50, degreesOf(e.rotation));
      if (e.columns * e.rows > 1) {
        out.integer(70, e.columns);
        out.integer(71, e.rows);
        out.number(44, e.columnSpacing);
        out.number(45, e.rowSpacing);
      }
      tail(x, e);
      if (e.attributes.length > 0) {
        for (const a of e.attributes) text(x, a, handle);
        out.string(0, 'SEQEND');
        out.string(5, x.handles.fresh());
        out.string(330, handle);
        out.string(100, 'AcDbEntity');
        out.string(8, x.layers.nameFor(e.layer));
      }
      return;
    }
    case 'opaque':
      return opaque(x, e, owner);
  }
}

/** The tags that every entity begins with. Returns its handle. */
export function head(x: EntityContext, type: string, e: Entity, owner: string, subclass: string, reuse = true): string {
  const { out } = x;
  const handle = x.handles.keep(reuse ? e.key : undefined, x.sameFormat);
  out.string(0, type);
  out.string(5, handle);
  out.string(330, owner);
  out.string(100, 'AcDbEntity');
  out.string(8, x.layers.nameFor(e.layer));
  appearance(x, e.look, type === 'HATCH' || (type === 'SOLID' && e.kind === 'face'), e.id);
  out.string(100, subclass);
  return handle;
}

const strokeOrFill = (look: Appearance): Paint => (look.stroke.kind === 'none' ? look.fill : look.stroke);
const fillOrStroke = (look: Appearance): Paint => (look.fill.kind === 'none' ? look.stroke : look.fill);

/** `area`: what is written is a fill, which has no width, rather than a line. */
function appearance(x: EntityContext, look: Appearance, area: boolean, id: number): void {
  const { out } = x;
  const paint = area ? fillOrStroke(look) : strokeOrFill(look);
  const { dash, width } = look;
  if (dash.kind === 'linetype') {
    const known = x.knownLinetypes.has(dash.name.toLowerCase());
    if (dash.name.toLowerCase() !== 'bylayer' && known) out.string(6, x.linetypes.nameFor(dash.name));
    if (dash.scale !== 1) out.number(48, dash.scale);
  } else if (dash.lengths.length > 0) out.string(6, x.linetypes.nameFor(dashName(dash.lengths)));
  // An outline that borrows the colour of its fill loses nothing that its hatch has not lost already.
  writePaint(x, paint, id, !area && look.stroke.kind === 'none');
  let weight = -1;
  if (area && width.kind === 'drawing') weight = -1;
  else if (width.kind === 'byBlock') weight = -2;
  else if (width.kind === 'standard') weight = -3;
  else if (width.kind !== 'byLayer') {
    const mm = width.kind === 'paper' ? width.mm : width.value * x.mmPerUnit;
    weight = nearestWeight(mm);
    const off = Math.abs(weight / 100 - mm);
    if (off > 1e-9) {
      x.ledger.add({
        carryOver: 'colour',
        action: 'approximated',
        reason: 'line widths moved to the nearest of the 24 weights of DXF',
        deviation: { value: Number(off.toPrecision(3)), unit: 'mm' },
        onPurpose: true,
        id,
      });
    }
  }
  if (weight !== -1) out.integer(370, weight);
  if (look.opacity < 1) {
    if (x.trueColour) out.integer(440, 0x02000000 | Math.round(look.opacity * 255));
    else x.ledger.add({ carryOver: 'colour', action: 'dropped', reason: 'transparency needs DXF 2004 or later', id });
  }
  if (!look.visible) out.integer(60, 1);
}

/** A name for dashes that the source gave by their lengths. */
export const dashName = (lengths: readonly number[]): string =>
  'DASH_' + lengths.map((l) => String(Number(l.toPrecision(6))).replace('.', 'p')).join('_');

function writePaint(x: EntityContext, paint: Paint, id: number, borrowed: boolean): void {
  const { out } = x;
  if (paint.kind === 'byBlock') return out.integer(62, 0);
  if (paint.kind === 'index') return out.integer(62, paint.index);
  if (paint.kind === 'byLayer' || paint.kind === 'none') return;
  if (paint.kind !== 'rgb' && !borrowed) {
    x.ledger.add({
      carryOver: 'colour',
      action: 'dropped',
      reason: `${paint.kind}s cannot be held by DXF here; replaced by one plain colour`,
      id,
    });
  }
  const exact = exactIndex(paint.rgb);
  const fallback = paint.kind === 'rgb' ? paint.index : undefined;
  if (exact !== null && fallback === undefined) return out.integer(62, exact);
  out.integer(62, fallback ?? nearestIndex(paint.rgb));
  if (x.trueColour) out.integer(420, paint.rgb);
  else
    x.ledger.add({
      carryOver: 'colour',
      action: 'approximated',
      reason: 'true colours need DXF 2004; nearest index taken',
      id,
    });
}

function normal(x: EntityContext, e: Entity): void {
  if (e.normal) x.out.point(210, e.normal);
}
export function extended(x: EntityContext, e: Entity): void {
  if (e.extended && x.sameFormat) x.out.raw(e.extended);
}
export function tail(x: EntityContext, e: Entity): void {
  normal(x, e);
  extended(x, e);
}

function lightPolyline(x: EntityContext, e: Polyline, owner: string): void {
  const { out } = x;
  head(x, 'LWPOLYLINE', e, owner, 'AcDbPolyline');
  const n = e.points.length / 2;
  out.integer(90, n);
  out.integer(70, e.closed ? 1 : 0);
  const constant = e.widths && e.widths.every((w) => w === e.widths![0]) ? e.widths[0] : null;
  if (constant !== null) out.number(43, constant);
  if (e.elevation !== 0) out.number(38, e.elevation);
  for (let i = 0; i < n; i++) {
    out.point2(10, e.points[2 * i], e.points[2 * i + 1]);
    if (e.widths && constant === null) {
      out.number(40, e.widths[2 * i]);
      out.number(41, e.widths[2 * i + 1]);
    }
    if (e.bulges && e.bulges[i] !== 0) out.number(42, e.bulges[i]);
  }
  tail(x, e);
}

function spacePolyline(x: EntityContext, e: Polyline, owner: string): void {
  const { out } = x;
  const handle = head(x, 'POLYLINE', e, owner, 'AcDb3dPolyline');
  out.integer(66, 1);
  out.point(10, [0, 0, 0]);
  out.integer(70, 8 | (e.closed ? 1 : 0));
  tail(x, e);
  for (let i = 0; i < e.points.length; i += 3) {
    out.string(0, 'VERTEX');
    out.string(5, x.handles.fresh());
    out.string(330, handle);
    out.string(100, 'AcDbEntity');
    out.string(8, x.layers.nameFor(e.layer));
    out.string(100, 'AcDbVertex');
    out.string(100, 'AcDb3dPolylineVertex');
    out.point(10, [e.points[i], e.points[i + 1], e.points[i + 2]]);
    out.integer(70, 32);
  }
  out.string(0, 'SEQEND');
  out.string(5, x.handles.fresh());
  out.string(330, handle);
  out.string(100, 'AcDbEntity');
  out.string(8, x.layers.nameFor(e.layer));
}

function spline(x: EntityContext, e: Spline, owner: string): void {
  const { out } = x;
  head(x, 'SPLINE', e, owner, 'AcDbSpline');
  out.point(210, e.normal ?? [0, 0, 1]);
  const fit = e.fitPoints?.length ?? 0;
  out.integer(70, (e.closed ? 1 : 0) | (e.periodic ? 2 : 0) | (e.weights ? 4 : 0) | 8);
  out.integer(71, e.degree);
  out.integer(72, e.knots.length);
  out.integer(73, e.points.length / 3);
  out.integer(74, fit / 3);
  for (const k of e.knots) out.number(40, k);
  if (e.weights) for (const w of e.weights) out.number(41, w);
  for (let i = 0; i < e.points.length; i += 3) out.point(10, [e.points[i], e.points[i + 1], e.points[i + 2]]);
  for (let i = 0; i < fit; i += 3) out.point(11, [e.fitPoints![i], e.fitPoints![i + 1], e.fitPoints![i + 2]]);
  extended(x, e);
}

/** Each subpath becomes the drafting curve that equals it; a filled path a hatch too. */
function path(x: EntityContext, e: Path, owner: string): void {
  fillOf(x, e, owner);
  let gone = 1;
  for (const subpath of splitSubpaths(e.path)) {
    const curve = draftingCurve(subpath);
    if (!curve) continue;
    const { id, layer, look, normal: n } = e;
    const base = { id, layer, look, ...(n && { normal: n }) };
    let became: Entity;
    if (curve.form === 'polyline') {
      const { points, bulges, closed } = curve;
      const curved = bulges.some((b) => b !== 0);
      became = { kind: 'polyline', ...base, points, dim: 2, elevation: 0, closed, ...(curved && { bulges }) };
      lightPolyline(x, became, owner);
    } else if (curve.form === 'ellipse') {
      became = ellipseOf(curve.arc, base);
      writeEntity(x, { ...became, look: { ...look, fill: { kind: 'none' } } } as Entity, owner);
    } else {
      const points = new Float64Array(curve.points);
      became = {
        kind: 'spline', ...base, degree: 3, knots: curve.knots, points,
        ...(curve.weights && { weights: curve.weights }), closed: curve.closed, periodic: false,
      }; // prettier-ignore
      spline(x, became, owner);
    }
    x.ledger.add({
      carryOver: 'curves',
      action: 'changed',
      reason: `outlines of paths written as ${became.kind}s, exactly`,
      onPurpose: true,
      becomes: { from: 'path', to: became.kind, gone, entities: 1 },
      id,
    });
    gone = 0;
  }
}

function ellipseOf(
  arc: { cx: number; cy: number; rx: number; ry: number; rotation: number; start: number; sweep: number },
  base: { id: number; layer: string; look: Appearance; normal?: Vec3 },
): Entity {
  // Drafting wants the longer half axis and a counter-clockwise sweep.
  const swap = arc.ry > arc.rx;
  const long = swap ? arc.ry : arc.rx;
  const turn = arc.rotation + (swap ? Math.PI / 2 : 0);
  const shift = swap ? -Math.PI / 2 : 0;
  const [from, to] = arc.sweep > 0 ? [arc.start, arc.start + arc.sweep] : [arc.start + arc.sweep, arc.start];
  const whole = Math.abs(Math.abs(arc.sweep) - 2 * Math.PI) < 1e-9;
  return {
    kind: 'ellipse',
    ...base,
    centre: [arc.cx, arc.cy, 0],
    major: [long * Math.cos(turn), long * Math.sin(turn), 0],
    ratio: (swap ? arc.rx : arc.ry) / long,
    start: whole ? 0 : from + shift,
    end: whole ? 2 * Math.PI : to + shift,
  };
}

/** The hatch that stands for an entity's fill; written before its outline so that it lies under it. */
function fillOf(x: EntityContext, e: Entity, owner: string): void {
  if (e.look.fill.kind === 'none') return;
  const outline = outlinePath(e);
  const loops = outline ? fillLoops(outline).map((path) => ({ path, flags: 0 })) : [];
  if (loops.length === 0) return;
  const { id, layer, look, normal: n } = e;
  const hatch: Hatch = {
    kind: 'hatch', id, layer, look, ...(n && { normal: n }),
    loops, solid: true, pattern: 'SOLID', elevation: 0, angle: 0, scale: 1,
  }; // prettier-ignore
  writeHatch(x, hatch, owner, false);
  x.ledger.add({
    carryOver: 'colour',
    action: 'changed',
    reason: 'fills written as solid hatches under their outlines',
    onPurpose: true,
    becomes: { from: 'fill', to: 'hatch', gone: 1, entities: 1 },
    id,
  });
  if (e.look.stroke.kind === 'none') {
    x.ledger.add({
      carryOver: 'curves',
      action: 'changed',
      reason: 'fills without a stroke got an outline in their own colour',
      onPurpose: true,
      id,
      added: { [curveKey(layer, hex(paintRgb(look.fill) ?? 0))]: lengthOf(e) },
    });
  }
}

function text(x: EntityContext, e: Text, owner: string): void {
  const { out } = x;
  const attribute = e.tag !== undefined;
  head(x, attribute ? 'ATTRIB' : 'TEXT', e, owner, 'AcDbText');
  const h = HORIZONTAL.indexOf(e.horizontal);
  const v = VERTICAL.indexOf(e.vertical);
  const simple = h === 0 && v === 0;
  const stretched = e.horizontal === 'aligned' || e.horizontal === 'fit';
  const first = stretched || simple ? e.at : (e.other ?? e.at);
  const second = stretched ? (e.other ?? e.at) : simple ? e.other : e.at;
  out.point(10, first);
  const family = e.font?.family ?? '';
  out.number(40, e.sizeOf === 'em' ? e.size * x.fonts.capital(family) : e.size);
  if (e.sizeOf === 'em') {
    x.ledger.add({
      carryOver: 'text',
      action: 'changed',
      reason: 'font sizes (em) written as height of capitals, by the metrics of the font or its stand-in',
      onPurpose: true,
      id: e.id,
    });
  }
  out.string(1, encodeText(e.text));
  out.number(50, degreesOf(e.rotation));
  if (e.widthFactor !== 1) out.number(41, e.widthFactor);
  if (e.oblique !== 0) out.number(51, degreesOf(e.oblique));
  out.string(7, x.styles.nameFor(e.style ?? styleFor(e)));
  if (h !== 0) out.integer(72, h);
  if (second) out.point(11, second);
  if (e.normal) out.point(210, e.normal);
  out.string(100, attribute ? 'AcDbAttribute' : 'AcDbText');
  if (attribute) {
    out.string(2, e.tag!);
    out.integer(70, e.hidden ? 1 : 0);
  }
  if (v !== 0) out.integer(attribute ? 74 : 73, v);
  extended(x, e);
}

/** The text style that carries a font request of an illustration format. */
export const styleFor = (e: Text): string => (e.font ? e.font.family : 'Standard');

function opaque(x: EntityContext, e: Extract<Entity, { kind: 'opaque' }>, owner: string): void {
  if (!x.sameFormat || e.stale || e.format !== 'dxf') {
    x.ledger.add({
      carryOver: 'curves',
      action: 'dropped',
      reason: e.stale
        ? `${e.type} could not follow the move or scale of the drawing`
        : `${e.type} cannot be written here`,
      becomes: { from: 'opaque', to: 'nothing', gone: 1, entities: 0 },
      id: e.id,
    });
    return;
  }
  // Its own tags, with the owner it has in this file.
  let seen = false;
  let inGroup = false;
  const lines = e.raw.replace(/\r\n?/g, '\n').split('\n');
  const out: string[] = [];
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = lines[i].trim();
    // Reactors and extension dictionaries point at objects that are not written.
    if (code === '102') {
      inGroup = lines[i + 1].trim().startsWith('{');
      continue;
    }
    if (inGroup || code === '360') continue;
    if (code === '330' && !seen && e.type !== 'POLYLINE') {
      seen = true;
      out.push(lines[i], owner);
    } else out.push(lines[i], lines[i + 1]);
  }
  if (e.key) x.handles.keep(e.key, true);
  x.out.raw(out.join('\n'));
}

const chunks = (text: string, size: number): string[] => {
  const out: string[] = [];
  for (let i = 0; i < text.length; i += size) out.push(text.slice(i, i + size));
  return out;
};

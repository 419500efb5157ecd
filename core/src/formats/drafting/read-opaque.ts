import type { Drawing } from '../../drawing/drawing.js';
import type { Entity, Opaque } from '../../drawing/entity.js';
import type { PartBase } from '../../drawing/arrows.js';
import { multileaderParts } from './multileader.js';
import { decodeProxyGraphic } from './proxy-graphic.js';
import type { Common } from './read-common.js';
import { ENTITY_READERS } from './read-entities.js';
import { readHatch } from './read-hatch.js';
import { parseRaw } from './raw-tags.js';
import { regionEdges } from './region-edges.js';
import type { Bag } from './bag.js';
import { plainOfRichText } from '../../text/text-codes.js';

/** What a reader of parts may look up. */
export interface PartContext {
  drawing: Drawing;
  /** Name of the block whose record has a handle. */
  blockName(handle: string): string | undefined;
}

/**
 * A record that the model does not hold: kept in its own form, and shown by what can be decoded of it: its picture
 * block, the lines and texts it amounts to, or the preview that its own program left in it.
 */
export function readOpaque(type: string, bag: Bag, common: Common, raw: string, x: PartContext): Opaque {
  const { extended: _e, rest: _r, ...own } = common;
  const base: Opaque = { kind: 'opaque', ...own, format: 'dxf', type, raw };
  const picture = type === 'DIMENSION' || type === 'ARC_DIMENSION' ? bag.text(2) : '';
  if (picture) return { ...base, picture };
  const part: PartBase = {
    id: common.id,
    layer: common.layer,
    look: common.look,
    ...(common.normal && { normal: common.normal }),
  };
  const drawn = decoded(type, bag, part, raw, x);
  return drawn.length > 0 ? { ...base, drawn } : base;
}

function decoded(type: string, bag: Bag, part: PartBase, raw: string, x: PartContext): Entity[] {
  switch (type) {
    case 'MULTILEADER':
    case 'MLEADER':
      return multileaderParts(parseRaw(raw), part, x.blockName);
    case 'ACAD_TABLE':
      return tableParts(bag, part);
    case 'MLINE':
      return multilineParts(bag, part);
    case 'TOLERANCE':
      return toleranceParts(bag, part, x.drawing);
    case 'HELIX':
      return helixParts(bag, part);
    case 'MPOLYGON': {
      const hatch = readHatch(bag, part);
      return hatch ? [hatch] : [];
    }
    case 'MESH':
      return meshParts(bag, part);
    case 'OLE2FRAME':
      return frameParts(bag, part);
    case 'REGION':
      return regionEdges(parseRaw(raw), part);
    default:
      return decodeProxyGraphic(bag, part);
  }
}

/** A table is placed as an insert of the block that pictures it, turned by an angle or along a direction (11). */
function tableParts(b: Bag, part: PartBase): Entity[] {
  const block = b.text(2);
  if (block === '') return [];
  const rotation = b.has(50) ? b.radians(50) : Math.atan2(b.number(21), b.number(11, 1));
  return [
    {
      kind: 'insert',
      ...part,
      block,
      at: b.point(10),
      scale: [b.number(41, 1), b.number(42, 1), b.number(43, 1)],
      rotation,
      columns: 1,
      rows: 1,
      columnSpacing: 0,
      rowSpacing: 0,
      attributes: [],
    },
  ];
}

/**
 * MLINE: each vertex has a point (11), a direction (12) and a mitre (13); each element's first parameter (41) is its
 * distance from the vertex along the mitre (DXF reference, MLINE).
 */
function multilineParts(b: Bag, part: PartBase): Entity[] {
  const lines: number[][] = [];
  let vertex: number[] = [0, 0, 0];
  let mitre: number[] = [0, 0, 0];
  let element = -1;
  let first = false;
  for (let i = 0; i < b.count; i++) {
    const code = b.codes[i];
    if (code === 11) vertex = [b.numberAt(i), 0, 0];
    else if (code === 21) vertex[1] = b.numberAt(i);
    else if (code === 31) vertex[2] = b.numberAt(i);
    else if (code === 13) mitre = [b.numberAt(i), 0, 0];
    else if (code === 23) mitre[1] = b.numberAt(i);
    else if (code === 33) {
      mitre[2] = b.numberAt(i);
      element = -1;
    } else if (code === 74) {
      element++;
      first = true;
    } else if (code === 41 && first && element >= 0 && element < 64) {
      first = false;
      const k = b.numberAt(i);
      (lines[element] ??= []).push(vertex[0]! + mitre[0]! * k, vertex[1]! + mitre[1]! * k, vertex[2]! + mitre[2]! * k);
    }
  }
  const closed = (b.integer(71) & 2) !== 0;
  const { normal: _n, ...flat } = part;
  return lines
    .filter((l) => l.length >= 6)
    .map((l) => ({ kind: 'polyline', ...flat, points: Float64Array.from(l), dim: 3, elevation: 0, closed }));
}

/** TOLERANCE as one line of its plain text; frames are not drawn. */
function toleranceParts(b: Bag, part: PartBase, drawing: Drawing): Entity[] {
  const content = b.text(1);
  const plain = plainOfRichText(content.replace(/%%v/gi, ' | ').replace(/\^J/g, '\\P'));
  if (plain.trim() === '') return [];
  const style = drawing.dimensionStyles.find((s) => s.name.toLowerCase() === b.text(3, 'Standard').toLowerCase());
  const of = (code: number, otherwise: number): number =>
    Number(style?.tags.find((t) => t[0] === code)?.[1] ?? otherwise) || otherwise;
  return [
    {
      kind: 'text',
      ...part,
      text: plain.replace(/\n/g, '  '),
      at: b.point(10),
      size: of(140, 2.5) * of(40, 1),
      sizeOf: 'capital',
      rotation: Math.atan2(b.number(21), b.number(11, 1)),
      widthFactor: 1,
      oblique: 0,
      horizontal: 'left',
      vertical: 'middle',
      style: 'Standard',
    },
  ];
}

/** A HELIX is a spline with the numbers it was made from behind it; those begin at its own subclass mark. */
function helixParts(b: Bag, part: PartBase): Entity[] {
  const whole = b.count;
  for (let i = 0; i < whole; i++) if (b.codes[i] === 100 && b.textAt(i) === 'AcDbHelix') b.count = i;
  const { normal: _n, ...flat } = part;
  const spline = ENTITY_READERS['SPLINE']!.read(b, flat);
  b.count = whole;
  return spline ? [spline] : [];
}

/** MESH: corners, then faces as a list of counts and indices (90), both before any smoothing. */
function meshParts(b: Bag, part: PartBase): Entity[] {
  const x = b.numbers(10);
  const y = b.numbers(20);
  const z = b.numbers(30);
  const points = new Float64Array(3 * x.length);
  x.forEach((v, i) => points.set([v, y[i] ?? 0, z[i] ?? 0], 3 * i));
  const start = b.find(93);
  if (start < 0) return [];
  const size = b.numberAt(start);
  const faces: number[] = [];
  let i = start + 1;
  const list: number[] = [];
  for (; i < b.count && list.length < size && b.codes[i] === 90; i++) list.push(b.numberAt(i));
  for (let k = 0; k < list.length;) {
    const n = list[k]!;
    const face = list.slice(k + 1, k + 1 + n);
    if (n <= 0) break;
    if (face.length === n && face.every((c) => c >= 0 && c < x.length)) faces.push(n, ...face);
    k += n + 1;
  }
  const { normal: _n, ...flat } = part;
  return faces.length > 0 ? [{ kind: 'mesh', ...flat, points, faces: Int32Array.from(faces) }] : [];
}

/** An embedded object of another program, as the frame around it. */
function frameParts(b: Bag, part: PartBase): Entity[] {
  if (!b.has(10) || !b.has(11)) return [];
  const [p, q] = [b.point(10), b.point(11)];
  const points = Float64Array.of(p[0], p[1], q[0], p[1], q[0], q[1], p[0], q[1]);
  return [{ kind: 'polyline', ...part, points, dim: 2, elevation: p[2], closed: true }];
}

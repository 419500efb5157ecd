import { groupPath } from '../drawing/groups-around.js';
import { isDrafting } from '../drawing/format-traits.js';
import { Box2 } from '../geometry/box.js';
import { nodeCount } from '../geometry/path.js';
import { areaOf } from '../drawing/area.js';
import { isAngular, measuredValue, readDimensionText } from '../drawing/dimension.js';
import type { Drawing } from '../drawing/drawing.js';
import { layerIndex, layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import { lengthOf } from '../drawing/measures.js';
import { hex } from '../drawing/palette.js';
import { walk } from '../drawing/resolve.js';
import type { ItemIndex } from './item-index.js';

/** One thing that is known of a selection: words, or a number in the drawing's unit, its square, degrees, or a count. */
export type Fact =
  { label: string; text: string } | { label: string; value: number; of: 'length' | 'area' | 'angle' | 'count' };

export interface Description {
  title: string;
  facts: Fact[];
}

const degrees = (radians: number): number => (radians * 180) / Math.PI;

/** An entity in a few words, such as “circle on ROOF, 12.5 mm long”: by which a person knows again what was picked. */
export function briefly(drawing: Drawing, e: Entity): string {
  const length = lengthOf(e);
  const unit = drawing.unit?.unit ?? 'units';
  return `${kindName(e.kind)} on ${e.layer}${length > 0 ? `, ${Number(length.toPrecision(6))} ${unit} long` : ''}`;
}

/** What a person would want to know of what is selected; `null` when nothing is. */
export function describe(drawing: Drawing, items: ItemIndex, ids: ReadonlySet<number>): Description | null {
  const list = items.byId(ids);
  if (list.length === 0) return null;
  return list.length === 1 ? one(drawing, items, list[0]!) : several(items, list);
}

function several(items: ItemIndex, list: readonly Entity[]): Description {
  const kinds = new Map<Entity['kind'], number>();
  const layers = new Set<string>();
  const box = new Box2();
  let length = 0;
  let area = 0;
  let areas = 0;
  for (const e of list) {
    kinds.set(e.kind, (kinds.get(e.kind) ?? 0) + 1);
    layers.add(e.layer);
    const b = items.boxOf(e);
    if (b) box.addBox(b);
    if (e.kind !== 'hatch') length += lengthOf(e);
    const a = areaOf(e);
    if (a !== null) {
      area += a;
      areas++;
    }
  }
  const words = [...kinds].sort((a, b) => b[1] - a[1]).map(([k, n]) => `${n} ${kindName(k, n)}`);
  const named = [...layers];
  return {
    title: `${list.length} objects`,
    facts: [
      { label: 'kinds', text: words.join(', ') },
      {
        label: named.length === 1 ? 'layer' : 'layers',
        text: named.slice(0, 4).join(', ') + (named.length > 4 ? ` and ${named.length - 4} more` : ''),
      },
      ...(length > 0 ? [{ label: 'total length', value: length, of: 'length' as const }] : []),
      ...(areas > 0 ? [{ label: `area (${areas} closed)`, value: area, of: 'area' as const }] : []),
      ...sizeOf(box),
    ],
  };
}

function sizeOf(box: Box2): Fact[] {
  if (box.empty) return [];
  return [
    { label: 'width', value: box.width, of: 'length' },
    { label: 'height', value: box.height, of: 'length' },
  ];
}

function one(drawing: Drawing, items: ItemIndex, e: Entity): Description {
  const facts: Fact[] = [{ label: 'layer', text: e.layer }];
  const { title, own } = ownFacts(drawing, e);
  facts.push(...lookFacts(drawing, e), ...own);
  const length = e.kind === 'hatch' || e.kind === 'insert' || e.kind === 'dimension' ? 0 : lengthOf(e);
  if (length > 0) facts.push({ label: e.kind === 'circle' ? 'circumference' : 'length', value: length, of: 'length' });
  const area = areaOf(e);
  if (area !== null) facts.push({ label: 'area', value: area, of: 'area' });
  const box = items.boxOf(e);
  if (box && e.kind !== 'circle' && e.kind !== 'line') facts.push(...sizeOf(box));
  const nodes = nodesOf(e);
  if (nodes > 0) facts.push({ label: 'points', value: nodes, of: 'count' });
  const path = groupPath(drawing, e);
  if (path) facts.push({ label: 'group', text: path });
  if (e.key) facts.push({ label: isDrafting(drawing) ? 'handle' : 'in the file', text: e.key });
  return { title, facts };
}

function ownFacts(drawing: Drawing, e: Entity): { title: string; own: Fact[] } {
  const own: Fact[] = [];
  const put = (label: string, value: number, of: 'length' | 'angle' | 'count'): void =>
    void own.push({ label, value, of });
  const say = (label: string, text: string): void => void own.push({ label, text });
  let title = capital(kindName(e.kind));
  switch (e.kind) {
    case 'line':
      put('direction', (degrees(Math.atan2(e.end[1] - e.start[1], e.end[0] - e.start[0])) + 360) % 360, 'angle');
      break;
    case 'circle':
      put('radius', e.radius, 'length');
      put('diameter', 2 * e.radius, 'length');
      break;
    case 'arc':
      put('radius', e.radius, 'length');
      put('diameter', 2 * e.radius, 'length');
      put(
        'included angle',
        degrees((((e.end - e.start) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI) || 2 * Math.PI),
        'angle',
      );
      break;
    case 'ellipse': {
      const major = Math.hypot(...e.major);
      put('long radius', major, 'length');
      put('short radius', major * e.ratio, 'length');
      break;
    }
    case 'polyline':
      title = e.closed ? 'Closed polyline' : 'Polyline';
      break;
    case 'spline':
      title = e.closed || e.periodic ? 'Closed spline' : 'Spline';
      put('degree', e.degree, 'count');
      break;
    case 'text':
      say('text', e.text);
      put('height', e.size, 'length');
      say('font', e.font?.family ?? e.style ?? 'Standard');
      if (e.rotation !== 0) put('rotation', degrees(e.rotation), 'angle');
      break;
    case 'richText':
      put('height', e.size, 'length');
      say('style', e.style ?? 'Standard');
      break;
    case 'insert': {
      const block = drawing.blocks.get(e.block.toLowerCase());
      title = `Block ${e.block}`;
      put('parts in it', block?.entities.length ?? 0, 'count');
      say('scale', e.scale.map((k) => Number(k.toPrecision(6))).join(' × '));
      if (e.rotation !== 0) put('rotation', degrees(e.rotation), 'angle');
      if (e.columns * e.rows > 1) say('array', `${e.columns} × ${e.rows}`);
      for (const a of e.attributes.slice(0, 8)) say(a.tag ?? 'attribute', a.text);
      if (block?.reference) say('reference', block.reference);
      break;
    }
    case 'dimension': {
      const measured = measuredValue(e);
      if (measured !== null)
        put('measures', isAngular(e) ? degrees(measured) : measured, isAngular(e) ? 'angle' : 'length');
      const reading = readDimensionText(e, drawing);
      if (e.override !== '' && e.override !== '<>') say('says', e.override);
      if (reading.verdict === 'typedOver') say('warning', 'text differs from length');
      say('style', e.style);
      break;
    }
    case 'hatch':
      say('pattern', e.solid ? 'solid' : e.pattern);
      put('outlines', e.loops.length, 'count');
      break;
    case 'image':
      title = e.cover ? 'Cover' : 'Picture';
      if (e.file) say('file', e.file.replace(/^.*[\\/]/, ''));
      break;
    case 'opaque':
      say('kind', e.type);
      break;
  }
  return { title, own };
}

const capital = (s: string): string => s[0]!.toUpperCase() + s.slice(1);

/** Its colour as it is seen, and who says so. */
function lookFacts(drawing: Drawing, e: Entity): Fact[] {
  let seen: number | null = null;
  let fill: number | null = null;
  walk(
    { ...drawing, entities: [e], blocks: new Map() },
    ({ resolved, depth }) => {
      if (depth !== 0) return;
      seen = resolved.stroke;
      fill = resolved.fill;
    },
    { hidden: true, ...(e.sheet !== undefined && { sheet: e.sheet }) },
  );
  const whose = { byLayer: ' of its layer', byBlock: ' of its block' }[e.look.stroke.kind as string] ?? '';
  const out: Fact[] = [];
  if (seen !== null) out.push({ label: 'colour', text: hex(seen) + whose });
  if (fill !== null && fill !== seen) out.push({ label: 'fill', text: hex(fill) });
  const { dash } = e.look;
  const linetype =
    dash.kind === 'lengths'
      ? dash.lengths.length > 0
        ? `dashes ${dash.lengths.map((l) => Number(l.toPrecision(4))).join(' ')}`
        : ''
      : dash.name.toLowerCase() === 'bylayer'
        ? (layerIndex(drawing).get(layerKey(drawing, e.layer))?.linetype ?? '')
        : dash.name;
  if (linetype !== '' && linetype.toLowerCase() !== 'continuous') out.push({ label: 'linetype', text: linetype });
  return out;
}

function nodesOf(e: Entity): number {
  switch (e.kind) {
    case 'polyline':
      return e.points.length / e.dim;
    case 'spline':
      return (e.fitOnly ? (e.fitPoints?.length ?? 0) : e.points.length) / 3;
    case 'path':
      return nodeCount(e.path);
    case 'mesh':
      return e.points.length / 3;
    default:
      return 0;
  }
}

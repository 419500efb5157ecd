import type { Vec3 } from '../../geometry/vector.js';
import type { Dimension, DimensionForm, Entity, HorizontalAlign, Text, VerticalAlign } from '../../drawing/entity.js';
import type { Common } from './read-common.js';
import type { Bag } from './bag.js';
import { plainOfRichText, plainOfText } from '../../text/text-codes.js';
import { encodeText } from './write-text.js';

const HORIZONTAL: readonly HorizontalAlign[] = ['left', 'centre', 'right', 'aligned', 'middle', 'fit'];
const VERTICAL: readonly VerticalAlign[] = ['baseline', 'bottom', 'middle', 'top'];

/**
 * TEXT, ATTRIB and ATTDEF. Group 10 counts when the text is left on its baseline, otherwise group 11 (DXF reference,
 * TEXT). Group 71 holds 2 for backwards and 4 for upside down.
 */
export function readText(b: Bag, c: Common, attribute = false): Text {
  const horizontal = HORIZONTAL[b.integer(72)] ?? 'left';
  const vertical = VERTICAL[b.integer(attribute ? 74 : 73)] ?? 'baseline';
  const first = b.point(10);
  const second = b.has(11) ? b.point(11) : null;
  const simple = horizontal === 'left' && vertical === 'baseline';
  const stretched = horizontal === 'aligned' || horizontal === 'fit';
  const at = simple || stretched || !second ? first : second;
  const other = stretched ? second : at === second ? first : null;
  const content = b.text(1);
  const text = plainOfText(content);
  const generation = b.integer(71);
  return {
    kind: 'text',
    ...c,
    text,
    // What our own coding would give back need not be kept.
    ...(text !== content && encodeText(text) !== content && { content }),
    at,
    ...(other && { other }),
    size: b.number(40, 1),
    sizeOf: 'capital',
    rotation: b.radians(50),
    widthFactor: b.number(41, 1),
    oblique: b.radians(51),
    horizontal,
    vertical,
    style: b.text(7, 'Standard'),
    ...((generation & 2) !== 0 && { backwards: true }),
    ...((generation & 4) !== 0 && { upsideDown: true }),
    ...(attribute && attributeState(b)),
  };
}

function attributeState(b: Bag): Pick<Text, 'tag' | 'hidden' | 'flags'> {
  const flags = b.integer(70);
  return { tag: b.text(2), hidden: (flags & 1) !== 0, ...((flags & ~3) !== 0 && { flags: flags & ~3 }) };
}

export function readAttributeDefinition(b: Bag, c: Common): Text {
  const definition = { prompt: b.text(3), constant: (b.integer(70) & 2) !== 0 };
  return { ...readText(b, c, true), definition };
}

export function readRichText(b: Bag, c: Common): Entity {
  let content = '';
  for (let i = 0; i < b.count; i++) if (b.codes[i] === 3) content += b.textAt(i);
  content += b.text(1);
  const attachment = b.integer(71, 1) - 1;
  // Whichever of rotation and direction stands last counts; the direction is in world coordinates.
  const rotation = b.has(11) && b.find(11) > b.find(50) ? Math.atan2(b.number(21), b.number(11)) : b.radians(50);
  return {
    kind: 'richText',
    ...c,
    content,
    plain: plainOfRichText(content),
    at: b.point(10),
    size: b.number(40, 1),
    width: b.number(41),
    rotation,
    horizontal: (['left', 'centre', 'right'] as const)[attachment % 3] ?? 'left',
    vertical: (['top', 'middle', 'bottom'] as const)[Math.floor(attachment / 3)] ?? 'top',
    lineSpacing: b.number(44, 1),
    ...(b.integer(73, 1) === 2 && { exactSpacing: true }),
    style: b.text(7, 'Standard'),
  };
}

/** The form behind the low bits of group 70 (DXF reference, "Common Dimension Group Codes"). */
export const DIMENSION_FORMS: readonly DimensionForm[] = [
  'linear',
  'aligned',
  'angular',
  'diameter',
  'radius',
  'angular3',
  'ordinate',
  'jogged',
  'arc',
];

export function readDimension(b: Bag, c: Common, type: 'DIMENSION' | 'ARC_DIMENSION'): Dimension | null {
  const flags = b.integer(70);
  const form = type === 'ARC_DIMENSION' ? 'arc' : DIMENSION_FORMS[flags & 15];
  if (form === undefined || (type === 'DIMENSION' && (form === 'jogged' || form === 'arc'))) return null;
  const points: Dimension['points'] = {};
  for (const code of [10, 11, 12, 13, 14, 15, 16, 17] as const) if (b.has(code)) points[code] = b.point(code);
  const radial = form === 'radius' || form === 'diameter';
  return {
    kind: 'dimension',
    ...c,
    form,
    points,
    override: b.text(1),
    ...(b.has(42) && { stated: b.number(42) }),
    style: b.text(3, 'Standard'),
    ...(b.has(2) && { picture: b.text(2) }),
    // Radial dimensions keep the length of their leader (40) among the rest.
    rotation: radial ? 0 : b.radians(50),
    oblique: b.radians(52),
    textRotation: b.radians(53),
    ordinateX: (flags & 64) !== 0,
    // An arc length says its form by its name; the number programs give beside it differs.
    flags: flags & (form === 'arc' ? 15 | 32 | 128 : 32 | 128),
  };
}

export function readLeader(b: Bag, c: Common): Entity | null {
  const x = b.numbers(10);
  const y = b.numbers(20);
  const z = b.numbers(30);
  if (x.length < 2) return null;
  const points = new Float64Array(3 * x.length);
  x.forEach((v, i) => points.set([v, y[i] ?? 0, z[i] ?? 0] satisfies Vec3, 3 * i));
  return {
    kind: 'leader',
    ...c,
    points,
    arrow: b.integer(71, 1) !== 0,
    curved: b.integer(72) === 1,
    style: b.text(3, 'Standard'),
  };
}

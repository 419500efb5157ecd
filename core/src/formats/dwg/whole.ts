import { textPlaces } from '../drafting/write-annotations.js';
import type { Entity, Polyline, Text } from '../../drawing/entity.js';
import { putLight, putLine } from './codecs-curves.js';
import { putText } from './codecs-text.js';
import { putScale } from './codecs-placed.js';
import type { FieldWriter } from './field-writer.js';
import { UPWARDS } from './field-writer.js';
import { HARD_POINTER } from './fields.js';

/** What an entity goes by: the handle of its block or style, and its text as the file has it. */
export interface Words {
  reference: number;
  text: string;
}

/**
 * Puts an entity of a frequent kind into bits without making tags of it: the same bits that its tags would come to.
 */
export function putWhole(f: FieldWriter, e: Entity, words: Words): void {
  const { data } = f;
  switch (e.kind) {
    case 'line':
      putLine(f, e.start, e.end);
      return raised(f, e);
    case 'point':
      f.putPoint(e.at);
      raised(f, e);
      return data.bitDouble(0);
    case 'circle':
    case 'arc':
      f.putPoint(e.centre);
      data.bitDouble(e.radius);
      raised(f, e);
      if (e.kind === 'circle') return;
      data.bitDouble(e.start);
      return data.bitDouble(e.end);
    case 'polyline':
      return polyline(f, e);
    case 'insert':
      f.putPoint(e.at);
      putScale(f, e.scale);
      data.bitDouble(e.rotation);
      f.putPoint(e.normal ?? UPWARDS);
      data.bit(0);
      return f.putRef(HARD_POINTER, words.reference);
    case 'text':
      text(f, e, words.text);
      return f.putRef(HARD_POINTER, words.reference);
  }
  throw new TypeError(`a ${e.kind} has no short way into bits`);
}

function raised(f: FieldWriter, e: Entity): void {
  f.putThickness(e.thickness ?? 0);
  f.putExtrusion(e.normal ?? UPWARDS);
}

function text(f: FieldWriter, e: Text, said: string): void {
  const { h, v, first, second, generation } = textPlaces(e);
  putText(f, {
    at: first,
    second,
    height: e.size,
    width: e.widthFactor,
    rotation: e.rotation,
    oblique: e.oblique,
    generation,
    h,
    v,
    normal: e.normal ?? UPWARDS,
    thickness: e.thickness ?? 0,
    text: said,
  });
}

function polyline(f: FieldWriter, e: Polyline): void {
  const { widths, bulges } = e;
  const constant = widths !== undefined && widths.every((w) => w === widths[0]);
  putLight(f, {
    xy: e.points,
    bulges: bulges?.some((b) => b !== 0) ? bulges : null,
    widths: widths && !constant ? widths : null,
    closed: e.closed,
    through: e.dashThrough === true,
    width: constant ? (widths[0] ?? 0) : 0,
    elevation: e.elevation,
    thickness: e.thickness ?? 0,
    normal: e.normal ?? UPWARDS,
  });
}

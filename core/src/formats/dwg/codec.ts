import type { TagRecord } from './tag-store.js';
import type { FieldReader } from './field-reader.js';
import type { FieldWriter } from './field-writer.js';
import type { Fields } from './fields.js';

/**
 * How one kind of object lies in the bits, its head (handle, owner, layer and so on) left out: said once for both ways,
 * or each way for itself where the fields depend on one another.
 */
export type Codec = ((f: Fields) => void) | TwoWay;
/** Each way for itself. */
export interface TwoWay {
  /** Whether a record holds what its bits cannot do without. */
  fits?(record: TagRecord): boolean;
  read(f: FieldReader): void;
  write(f: FieldWriter): void;
}

export function readFields(codec: Codec, f: FieldReader): void {
  if (typeof codec === 'function') codec(f);
  else codec.read(f);
}
export function writeFields(codec: Codec, f: FieldWriter): void {
  if (typeof codec === 'function') codec(f);
  else codec.write(f);
}
export const fitsFields = (codec: Codec, record: TagRecord): boolean =>
  typeof codec === 'function' || (codec.fits?.(record) ?? true);

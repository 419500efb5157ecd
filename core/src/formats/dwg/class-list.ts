import type { FieldReader } from './field-reader.js';

/** A class that a program brought along: objects of it have its number as their type. */
export interface DwgClass {
  number: number;
  /** Proxy flags, as group 90 of CLASS. */
  flags: number;
  application: string;
  /** Name in code, such as AcDbRasterImage. */
  cpp: string;
  /** Name in a DXF, such as IMAGE. */
  record: string;
  wasProxy: boolean;
  entity: boolean;
  /** How many objects there are of it, from version 2004 on. */
  count: number;
}

/** Numbers of classes begin here. */
export const FIRST_CLASS = 500;
const ENTITY = 0x1f2;
const MOST = 65536;

/** Reads the classes; `f` stands at the first, its data end with the last. */
export function readClasses(f: FieldReader, most = MOST): DwgClass[] {
  const { data } = f;
  const out: DwgClass[] = [];
  while (data.left >= 30 && out.length < most) {
    const number = data.bitShort();
    const flags = data.bitShort() & 0xffff;
    const application = f.text();
    const cpp = f.text();
    const record = f.text();
    const wasProxy = data.bit() !== 0;
    const entity = data.bitShort() === ENTITY;
    let count = 0;
    if (f.v >= 2004) {
      count = data.bitLong();
      // Version and maintenance version, and two numbers nobody explains.
      for (let k = 0; k < 4; k++) data.bitLong();
    }
    if (data.overrun || number < FIRST_CLASS) break;
    out.push({ number, flags, application, cpp, record, wasProxy, entity, count });
  }
  return out;
}

/** What a file holds once its pages are unpacked: the parts that readers look into, and what was found wrong. */
export interface Container {
  /** The six letters of the version, and the version as in `DWG_VERSIONS`. */
  letters: string;
  v: number;
  maintenance: number;
  /** Number of the code page. */
  codePage: number;
  /** Header variables, without the marks around them. */
  header: Uint8Array | null;
  classes: Uint8Array | null;
  /** The object map. */
  map: Uint8Array | null;
  /** What offsets of the object map count in. */
  objects: Uint8Array;
  /** 0 inches, 1 metric; absent when the file does not say. */
  measurement?: number;
  damage: Damage[];
}

export interface Damage {
  text: string;
  where: string;
}

/** Marks around parts of a file (Open Design Specification, "Sentinels"); the mark behind is the one before inverted. */
const mark = (hex: string): Uint8Array => Uint8Array.from(hex.match(/../g)!, (b) => parseInt(b, 16));
const inverted = (m: Uint8Array): Uint8Array => m.map((b) => ~b & 255);

export const HEADER_MARK = mark('CF7B1F23FDDE38A95F7C68B84E6D335F');
export const CLASSES_MARK = mark('8DA1C4B8C4A9F8C5C0DCF45FE7CFB68A');
export const PREVIEW_MARK = mark('1F256D07D43628289D57CA3F9D44102B');
export const SECOND_HEADER_MARK = mark('D47B21CE28939FBF53244009123CAA01');
export const FILE_HEADER_END = mark('95A04E2899821AE55E41E05F9D3A4D00');
export const endMark = inverted;

export const markedAt = (bytes: Uint8Array, at: number, m: Uint8Array): boolean => {
  for (let i = 0; i < m.length; i++) if (bytes[at + i] !== m[i]) return false;
  return true;
};

/** Where a mark stands, or -1. */
export function findMark(bytes: Uint8Array, m: Uint8Array, from = 0): number {
  for (let i = bytes.indexOf(m[0]!, from); i >= 0; i = bytes.indexOf(m[0]!, i + 1)) if (markedAt(bytes, i, m)) return i;
  return -1;
}

/** Where bytes say how a picture is to be shown turned: the value, and where it stands. */
export interface Turning {
  /** 1 to 8, as the tag numbers them: 1 as it is stored, 6 a quarter to the right. */
  readonly value: number;
  readonly at: number;
  readonly little: boolean;
}

const ORIENTATION = 0x0112;

/**
 * How a picture is to be shown by the first directory of its Exif (Exif 2.32, 4.6.4, tag 0x0112), whose TIFF head stands at `start`;
 * `null` where it does not say, says nothing known, or leads out of its place.
 */
export function exifTurning(view: DataView, start: number, end: number): Turning | null {
  if (start + 8 > end) return null;
  const order = view.getUint16(start);
  if (order !== 0x4949 && order !== 0x4d4d) return null;
  const little = order === 0x4949;
  const entries = start + view.getUint32(start + 4, little);
  if (entries + 2 > end) return null;
  const count = view.getUint16(entries, little);
  for (let k = 0; k < count; k++) {
    const entry = entries + 2 + 12 * k;
    if (entry + 12 > end) return null;
    if (view.getUint16(entry, little) !== ORIENTATION) continue;
    const value = view.getUint16(entry + 8, little);
    return value >= 1 && value <= 8 ? { value, at: entry + 8, little } : null;
  }
  return null;
}

/** How a stored picture of so many pixels is shown: how many pixels across and down, and where a stored place (y downwards) is. */
export function turned(
  value: number,
  width: number,
  height: number,
): { width: number; height: number; place: (x: number, y: number) => readonly [number, number] } {
  const [w, h] = value >= 5 ? [height, width] : [width, height];
  const places: Record<number, (x: number, y: number) => readonly [number, number]> = {
    1: (x, y) => [x, y],
    2: (x, y) => [w - x, y],
    3: (x, y) => [w - x, h - y],
    4: (x, y) => [x, h - y],
    5: (x, y) => [y, x],
    6: (x, y) => [w - y, x],
    7: (x, y) => [w - y, h - x],
    8: (x, y) => [y, h - x],
  };
  return { width: w, height: h, place: places[value] ?? places[1]! };
}

export const ascii = (text: string): number[] => [...text].map((c) => c.charCodeAt(0));
export const joined = (...parts: (ArrayLike<number> | number[])[]): Uint8Array =>
  Uint8Array.from(parts.flatMap((p) => Array.from(p)));

/** A segment put behind the first mark of a JPEG. */
export function segmented(jpeg: Uint8Array, mark: number, content: number[]): Uint8Array {
  const size = content.length + 2;
  return joined(jpeg.subarray(0, 2), [0xff, mark, size >> 8, size & 255], content, jpeg.subarray(2));
}

/** A TIFF head with one entry, the orientation, in either order of bytes, put together by hand. */
export function orientation(value: number, little: boolean): number[] {
  const n = (v: number, bytes: number): number[] => {
    const big = Array.from({ length: bytes }, (_, i) => (v >> (8 * (bytes - 1 - i))) & 255);
    return little ? big.reverse() : big;
  };
  return [
    ...ascii(little ? 'II' : 'MM'),
    ...n(42, 2),
    ...n(8, 4),
    ...n(1, 2),
    ...[...n(0x0112, 2), ...n(3, 2), ...n(1, 4), ...n(value, 2), 0, 0],
    ...n(0, 4),
  ];
}

/** What stands in the segment APP1 of a JPEG. */
export const exif = (value: number, little: boolean): number[] => [...ascii('Exif\0\0'), ...orientation(value, little)];

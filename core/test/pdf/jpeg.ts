/*
 * A JPEG of 8 × 8 pixels in one colour, put together by hand (ITU T.81): one block to a channel, which holds nothing but its mean.
 */
const segment = (marker: number, ...body: number[]): number[] => [
  0xff,
  marker,
  (body.length + 2) >> 8,
  (body.length + 2) & 255,
  ...body,
];
// The five letters of the segment's name (ISO 32000-2, table 13).
const MARK = [0x41, 0x64, 0x6f, 0x62, 0x65];

/** `channels` from 0 to 255; `marked` adds the segment APP14, which says that channels are stored as they are, not as luminance. */
export function plainJpeg(channels: readonly number[], marked = false): Uint8Array {
  const n = channels.length;
  // Lengths of bits 0 to 8 have codes of four bits each, in order; the end of a block has one of one bit.
  const lengths = [0, 1, 2, 3, 4, 5, 6, 7, 8];
  const dc = [0, 0, 0, 0, lengths.length, ...Array<number>(12).fill(0), ...lengths];
  const ac = [0x10, 1, ...Array<number>(15).fill(0), 0];
  let bits = '';
  for (const v of channels) {
    // Steps of 8 make the first coefficient, which is 8 times the mean, the mean itself.
    const d = v - 128;
    const size = d === 0 ? 0 : Math.floor(Math.log2(Math.abs(d))) + 1;
    bits += size.toString(2).padStart(4, '0');
    if (size > 0) bits += (d > 0 ? d : d + 2 ** size - 1).toString(2).padStart(size, '0');
    bits += '0';
  }
  bits = bits.padEnd(Math.ceil(bits.length / 8) * 8, '1');
  const scan = (bits.match(/.{8}/g) ?? []).flatMap((b) => (b === '11111111' ? [255, 0] : [parseInt(b, 2)]));
  const ids = channels.map((_, i) => i + 1);
  return Uint8Array.from([
    0xff,
    0xd8,
    ...(marked ? segment(0xee, ...MARK, 0, 100, 0, 0, 0, 0, 0) : []),
    ...segment(0xdb, 0, ...Array<number>(64).fill(8)),
    ...segment(0xc0, 8, 0, 8, 0, 8, n, ...ids.flatMap((id) => [id, 0x11, 0])),
    ...segment(0xc4, ...dc),
    ...segment(0xc4, ...ac),
    ...segment(0xda, n, ...ids.flatMap((id) => [id, 0]), 0, 63, 0),
    ...scan,
    0xff,
    0xd9,
  ]);
}

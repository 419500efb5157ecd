/** CRC-16 with the polynomial 0xA001 (reversed 0x8005), as tables and objects of a DWG carry it. */
const CRC16 = new Uint16Array(256);
/** CRC-32 of the header of version 2004. */
const CRC32 = new Uint32Array(256);
for (let i = 0; i < 256; i++) {
  let c = i;
  for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xa001 : c >>> 1;
  CRC16[i] = c;
  c = i;
  for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  CRC32[i] = c >>> 0;
}
/** What the first of two bytes comes to once the second has been taken in. */
const CRC16_BEFORE = CRC16.map((c) => (c >> 8) ^ CRC16[c & 255]!);

/** What the checksums of sections and objects start from. */
export const CRC_SEED = 0xc0c1;

/** The 16-bit checksum of `bytes[start, end)`. */
export function crc16(seed: number, bytes: Uint8Array, start = 0, end = bytes.length): number {
  let c = seed;
  let i = start;
  for (; i + 1 < end; i += 2) c = CRC16_BEFORE[(bytes[i]! ^ c) & 255]! ^ CRC16[bytes[i + 1]! ^ (c >> 8)]!;
  if (i < end) c = (c >> 8) ^ CRC16[(bytes[i]! ^ c) & 255]!;
  return c;
}
/** The 32-bit checksum of `bytes[start, end)`. */
export function crc32(seed: number, bytes: Uint8Array, start = 0, end = bytes.length): number {
  let c = ~seed;
  for (let i = start; i < end; i++) c = (c >>> 8) ^ CRC32[(bytes[i]! ^ c) & 255]!;
  return ~c >>> 0;
}

/** The checksum of pages from version 2004 on: two sums modulo 65521, the second of the first. */
export function pageSum(seed: number, bytes: Uint8Array, start = 0, end = bytes.length): number {
  let a = seed & 0xffff;
  let b = seed >>> 16;
  for (let i = start; i < end;) {
    // The sums stay below 2^32 for so many bytes.
    const stop = Math.min(end, i + 0x15b0);
    for (; i < stop; i++) {
      a += bytes[i]!;
      b += a;
    }
    a %= 0xfff1;
    b %= 0xfff1;
  }
  return ((b << 16) | a) >>> 0;
}

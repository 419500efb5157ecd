import { joined } from '../joined.js';

/*
 * Baseline JPEG (ITU T.81) with JFIF 1.02: three channels, none of them made smaller (lines stay sharp), the tables of annex K.
 */

const CM_PER_INCH = 2.54;
/** JFIF states whole pixels to the inch or to the centimetre, of 16 bits. */
const MOST_STATED = 65_535;
/** What is stated may be off by this part; beyond it nothing is stated. */
const FAR_OFF = 0.01;

/** How JFIF states a resolution: its unit (1 inch, 2 centimetre) and the number. */
function density(pxPerInch: number): { unit: 1 | 2; value: number; perInch: number } | null {
  const ways = ([1, 2] as const).map((unit) => {
    const times = unit === 1 ? 1 : CM_PER_INCH;
    const value = Math.round(pxPerInch / times);
    return { unit, value, perInch: value * times };
  });
  const off = (w: { perInch: number }): number => Math.abs(w.perInch / pxPerInch - 1);
  const [inch, cm] = ways as [(typeof ways)[0], (typeof ways)[0]];
  const best = off(cm) < off(inch) ? cm : inch;
  return best.value >= 1 && best.value <= MOST_STATED && off(best) <= FAR_OFF ? best : null;
}

/** Pixels to the inch that a JPEG can state, nearest to so many; `null` where none is near. */
export const jpegPerInch = (pxPerInch: number): number | null => density(pxPerInch)?.perInch ?? null;

// Table K.1 and K.2, in rows.
const LUMA = [
  16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55, 14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51,
  87, 80, 62, 18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92, 49, 64, 78, 87, 103, 121, 120, 101,
  72, 92, 95, 98, 112, 100, 103, 99,
];
const CHROMA = [
  17,
  18,
  24,
  47,
  99,
  99,
  99,
  99,
  18,
  21,
  26,
  66,
  99,
  99,
  99,
  99,
  24,
  26,
  56,
  99,
  99,
  99,
  99,
  99,
  47,
  66,
  99,
  99,
  99,
  99,
  99,
  99,
  ...new Array<number>(32).fill(99),
];
// Figure A.6: where the coefficients stand in the order of a file.
const ZIGZAG = zigzag();

function zigzag(): number[] {
  const out: number[] = [];
  for (let s = 0; s < 15; s++)
    for (let i = Math.max(0, s - 7); i <= Math.min(7, s); i++) out.push(s % 2 ? 8 * i + (s - i) : 8 * (s - i) + i);
  return out;
}

// Tables K.3 to K.6: how many codes there are of each length, and their values.
const DC_LUMA = { counts: [0, 1, 5, 1, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0], values: range(12) };
const DC_CHROMA = { counts: [0, 3, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0], values: range(12) };
const AC_LUMA = {
  counts: [0, 2, 1, 3, 3, 2, 4, 3, 5, 5, 4, 4, 0, 0, 1, 0x7d],
  values: bytes(
    '01020300041105122131410613516107227114328191a1082342b1c11552d1f02433627282090a161718191a25262728292a3435363738393a' +
      '434445464748494a535455565758595a636465666768696a737475767778797a838485868788898a92939495969798999aa2a3a4a5a6a7a8' +
      'a9aab2b3b4b5b6b7b8b9bac2c3c4c5c6c7c8c9cad2d3d4d5d6d7d8d9dae1e2e3e4e5e6e7e8e9eaf1f2f3f4f5f6f7f8f9fa',
  ),
};
const AC_CHROMA = {
  counts: [0, 2, 1, 2, 4, 4, 3, 4, 7, 5, 4, 4, 0, 1, 2, 0x77],
  values: bytes(
    '0001020311040521310612415107617113223281081442 91a1b1c109233352f0156272d10a162434e125f11718191a262728292a35363738393a' +
      '434445464748494a535455565758595a636465666768696a737475767778797a82838485868788898a92939495969798999aa2a3a4a5a6a7' +
      'a8a9aab2b3b4b5b6b7b8b9bac2c3c4c5c6c7c8c9cad2d3d4d5d6d7d8d9dae2e3e4e5e6e7e8e9eaf2f3f4f5f6f7f8f9fa',
  ),
};

function range(n: number): number[] {
  return Array.from({ length: n }, (_, i) => i);
}
function bytes(hex: string): number[] {
  return (hex.replace(/\s/g, '').match(/../g) ?? []).map((b) => parseInt(b, 16));
}

interface Table {
  readonly counts: readonly number[];
  readonly values: readonly number[];
}
/** Code and its length for each value (annex C). */
interface Codes {
  readonly code: Uint16Array;
  readonly size: Uint8Array;
}

function codesOf({ counts, values }: Table): Codes {
  const code = new Uint16Array(256);
  const size = new Uint8Array(256);
  let next = 0;
  let k = 0;
  counts.forEach((n, i) => {
    for (let j = 0; j < n; j++) {
      code[values[k]!] = next++;
      size[values[k++]!] = i + 1;
    }
    next <<= 1;
  });
  return { code, size };
}

// The cosines of the transform (A.3.3), with its factors.
const COSINES = Float64Array.from({ length: 64 }, (_, i) => {
  const [u, x] = [i >> 3, i & 7];
  return ((u === 0 ? Math.SQRT1_2 : 1) / 2) * Math.cos(((2 * x + 1) * u * Math.PI) / 16);
});

/** Writes a JPEG in strips of eight rows. `quality` from 1 to 100. */
export class JpegWriter {
  private readonly out: Uint8Array[] = [];
  private buffer = new Uint8Array(1 << 16);
  private used = 0;
  private bits = 0;
  private held = 0;
  private readonly quantum: readonly [Float64Array, Float64Array];
  private readonly before = [0, 0, 0];
  private readonly block = new Float64Array(64);
  private readonly half = new Float64Array(64);
  private readonly dc = [codesOf(DC_LUMA), codesOf(DC_CHROMA)] as const;
  private readonly ac = [codesOf(AC_LUMA), codesOf(AC_CHROMA)] as const;

  constructor(
    private readonly width: number,
    height: number,
    quality: number,
    pxPerInch: number,
  ) {
    // How much coarser or finer than annex K: the usual measure of quality, at which 50 is the tables themselves.
    const k = quality < 50 ? 5000 / quality : 200 - 2 * quality;
    const scaled = (t: readonly number[]): number[] =>
      t.map((v) => Math.min(255, Math.max(1, Math.floor((v * k + 50) / 100))));
    const tables = [scaled(LUMA), scaled(CHROMA)] as const;
    this.quantum = [Float64Array.from(tables[0]), Float64Array.from(tables[1])];
    const d = density(pxPerInch);
    const of16 = (v: number): number[] => [v >> 8, v & 255];
    const [unit, value] = d ? [d.unit, d.value] : [0, 1];
    this.marker(0xd8);
    this.segment(0xe0, [0x4a, 0x46, 0x49, 0x46, 0, 1, 2, unit, ...of16(value), ...of16(value), 0, 0]);
    tables.forEach((t, i) => this.segment(0xdb, [i, ...ZIGZAG.map((z) => t[z]!)]));
    const channels = [1, 2, 3].flatMap((id) => [id, 0x11, id === 1 ? 0 : 1]);
    this.segment(0xc0, [8, ...of16(height), ...of16(width), 3, ...channels]);
    [DC_LUMA, AC_LUMA, DC_CHROMA, AC_CHROMA].forEach((t, i) =>
      this.segment(0xc4, [((i & 1) << 4) | (i >> 1), ...t.counts, ...t.values]),
    );
    this.segment(0xda, [3, 1, 0, 2, 0x11, 3, 0x11, 0, 63, 0]);
  }

  private marker(m: number): void {
    this.byte(0xff);
    this.byte(m);
  }

  private segment(m: number, data: readonly number[]): void {
    this.marker(m);
    const n = data.length + 2;
    for (const b of [n >> 8, n & 255, ...data]) this.byte(b);
  }

  private byte(b: number): void {
    if (this.used === this.buffer.length) {
      this.out.push(this.buffer);
      this.buffer = new Uint8Array(1 << 16);
      this.used = 0;
    }
    this.buffer[this.used++] = b;
  }

  /** Bits of a code, the highest first; a byte of ones has a zero behind it (B.1.1.5). */
  private put(value: number, size: number): void {
    for (let i = size - 1; i >= 0; i--) {
      this.bits = (this.bits << 1) | ((value >> i) & 1);
      if (++this.held < 8) continue;
      this.byte(this.bits);
      if (this.bits === 0xff) this.byte(0);
      this.bits = 0;
      this.held = 0;
    }
  }

  /** Adds rows of red, green and blue from the top: a multiple of eight of them, but for the last. */
  rows(data: Uint8Array): void {
    const { width } = this;
    const height = data.length / (3 * width);
    for (let y = 0; y < height; y += 8)
      for (let x = 0; x < width; x += 8)
        for (let c = 0; c < 3; c++) {
          // What lies beyond the edges is as the last pixel before them.
          for (let v = 0; v < 8; v++)
            for (let u = 0; u < 8; u++) {
              const at = 3 * (Math.min(height - 1, y + v) * width + Math.min(width - 1, x + u));
              this.block[8 * v + u] = channel(c, data[at]!, data[at + 1]!, data[at + 2]!);
            }
          this.coded(c);
        }
  }

  private coded(c: number): void {
    const { block, half } = this;
    const chroma = c === 0 ? 0 : 1;
    for (let y = 0; y < 8; y++)
      for (let u = 0; u < 8; u++) {
        let sum = 0;
        for (let x = 0; x < 8; x++) sum += block[8 * y + x]! * COSINES[8 * u + x]!;
        half[8 * y + u] = sum;
      }
    const quantum = this.quantum[chroma]!;
    const value = (k: number): number => {
      const z = ZIGZAG[k]!;
      const [v, u] = [z >> 3, z & 7];
      let sum = 0;
      for (let y = 0; y < 8; y++) sum += half[8 * y + u]! * COSINES[8 * v + y]!;
      return Math.round(sum / quantum[z]!);
    };
    const dc = value(0);
    this.number(dc - this.before[c]!, 0, this.dc[chroma]);
    this.before[c] = dc;
    let zeros = 0;
    for (let k = 1; k < 64; k++) {
      const v = value(k);
      if (v === 0) {
        zeros++;
        continue;
      }
      for (; zeros > 15; zeros -= 16) this.put(this.ac[chroma].code[0xf0]!, this.ac[chroma].size[0xf0]!);
      this.number(v, zeros, this.ac[chroma]);
      zeros = 0;
    }
    if (zeros > 0) this.put(this.ac[chroma].code[0]!, this.ac[chroma].size[0]!);
  }

  /** A number by its size in bits, behind so many zeros, and then itself (F.1.2). */
  private number(v: number, zeros: number, codes: Codes): void {
    const size = v === 0 ? 0 : 32 - Math.clz32(Math.abs(v));
    const key = (zeros << 4) | size;
    this.put(codes.code[key]!, codes.size[key]!);
    this.put(v < 0 ? v + (1 << size) - 1 : v, size);
  }

  finish(): Uint8Array {
    if (this.held > 0) this.put((1 << (8 - this.held)) - 1, 8 - this.held);
    this.marker(0xd9);
    return joined([...this.out, this.buffer.subarray(0, this.used)]);
  }
}

/** Brightness and the two differences of colour (JFIF 1.02), about zero. */
function channel(c: number, r: number, g: number, b: number): number {
  if (c === 0) return 0.299 * r + 0.587 * g + 0.114 * b - 128;
  if (c === 1) return -0.168735892 * r - 0.331264108 * g + 0.5 * b;
  return 0.5 * r - 0.418687589 * g - 0.081312411 * b;
}

/**
 * The compression of versions 2004 and from 2010 on (Open Design Specification, "R2004 LZ77 compression"): runs of
 * plain bytes, and copies of what came before. A copy says in its last two bits how many plain bytes follow it (1 to 3),
 * or 0 when their count comes first, or none do.
 */

const END = 0x11;

/** Unpacks `bytes[at, end)` to at most `size` bytes; `whole` is `false` when it ended early or asked for more. */
export function unpack(
  bytes: Uint8Array,
  at: number,
  end: number,
  size: number,
): { bytes: Uint8Array; whole: boolean } {
  const out = new Uint8Array(size);
  let o = 0;
  let i = at;
  let whole = true;
  const count = (first: number): number => {
    let n = first;
    let b = bytes[i++]!;
    while (b === 0 && i < end) {
      n += 255;
      b = bytes[i++]!;
    }
    return n + b;
  };
  const plain = (n: number): void => {
    if (i + n > end || o + n > size) {
      whole = false;
      n = Math.max(0, Math.min(n, end - i, size - o));
    }
    for (let k = 0; k < n; k++) out[o++] = bytes[i++]!;
  };
  let op = i < end ? bytes[i++]! : END;
  if (op < 0x10) {
    plain((op === 0 ? count(15) : op) + 3);
    op = i < end ? bytes[i++]! : END;
  }
  while (op !== END && whole) {
    if (i >= end || op < 0x10) {
      whole = false;
      break;
    }
    let length: number;
    let offset: number;
    let literals = op;
    if (op >= 0x40) {
      length = (op >> 4) - 1;
      offset = (((op >> 2) & 3) | (bytes[i++]! << 2)) + 1;
    } else {
      const near = op >= 0x20;
      const most = near ? 31 : 7;
      length = op & most;
      if (length === 0) length = count(most);
      length += 2;
      literals = bytes[i++]!;
      offset = (literals >> 2) | (bytes[i++]! << 6);
      offset += near ? 1 : ((op & 8) << 11) + 0x4000;
    }
    if (offset > o || o + length > size) {
      whole = false;
      break;
    }
    for (let k = 0; k < length; k++, o++) out[o] = out[o - offset]!;
    literals &= 3;
    if (literals === 0) {
      op = i < end ? bytes[i++]! : END;
      if (op >= 0x10) continue;
      literals = (op === 0 ? count(15) : op) + 3;
    }
    plain(literals);
    op = i < end ? bytes[i++]! : END;
  }
  return { bytes: o === size ? out : out.subarray(0, o), whole };
}

const HASH_BITS = 13;
const FARTHEST = 0xbfff;
/** In a hurry, after so many plain bytes (as a power of two) the search goes on in steps of one more. */
const HURRIED = 3;
const THOROUGH = 31;

/** Where bytes like those at hand were met last, counted on from one call to the next. */
const table = new Int32Array(1 << HASH_BITS);
let base = FARTHEST + 1;

/** Packs bytes so that `unpack` gives them back. `hurried`: about four times as fast, and up to a fifth larger. */
export function pack(bytes: Uint8Array, hurried = false): Uint8Array {
  const step = hurried ? HURRIED : THOROUGH;
  const n = bytes.length;
  const out = new Uint8Array(n + (n >> 4) + 64);
  let o = 0;
  // Positions of earlier calls lie too far back to be met.
  if (base + n > 0x7fff0000) {
    table.fill(0);
    base = FARTHEST + 1;
  }
  const start = base;
  base += n + FARTHEST + 1;
  const more = (value: number): void => {
    let v = value;
    while (v > 255) {
      out[o++] = 0;
      v -= 255;
    }
    out[o++] = v;
  };
  /** Plain bytes before a copy; up to three are said by the copy before them, at `pending`. */
  let pending = -1;
  const literals = (from: number, to: number): void => {
    const count = to - from;
    if (count === 0) return;
    if (count <= 3 && pending >= 0) out[pending]! |= count;
    else if (count - 3 <= 15) out[o++] = count - 3;
    else {
      out[o++] = 0;
      more(count - 18);
    }
    if (count > 32) out.set(bytes.subarray(from, to), o);
    else for (let k = 0; k < count; k++) out[o + k] = bytes[from + k]!;
    o += count;
  };
  let from = 0;
  // The first plain bytes need a count of at least four.
  let i = Math.min(4, n);
  while (i + 4 <= n) {
    const key =
      Math.imul(bytes[i]! | (bytes[i + 1]! << 8) | (bytes[i + 2]! << 16) | (bytes[i + 3]! << 24), 0x9e3779b1) >>>
      (32 - HASH_BITS);
    const at = table[key]! - start;
    table[key] = start + i;
    const offset = i - at;
    let length = 0;
    if (offset <= FARTHEST) while (i + length < n && bytes[at + length] === bytes[i + length]) length++;
    // With none said before it, one to three plain bytes have no form.
    if (length < 4 || (pending < 0 && i - from < 4)) {
      // The longer nothing was met again, the larger the steps: numbers of many digits hardly ever are.
      i += 1 + ((i - from) >> step);
      continue;
    }
    literals(from, i);
    if (offset <= 0x400 && length <= 14) {
      pending = o;
      out[o++] = ((length + 1) << 4) | (((offset - 1) & 3) << 2);
      out[o++] = (offset - 1) >> 2;
    } else {
      const near = offset <= 0x4000;
      const most = near ? 31 : 7;
      const back = near ? offset - 1 : offset - 0x4000;
      const op = near ? 0x20 : 0x10 | ((back >> 11) & 8);
      if (length - 2 <= most) out[o++] = op | (length - 2);
      else {
        out[o++] = op;
        more(length - 2 - most);
      }
      pending = o;
      out[o++] = (back & 0x3f) << 2;
      out[o++] = (back >> 6) & 0xff;
    }
    i += length;
    from = i;
  }
  if (n - from > 0 && n - from < 4 && pending < 0) {
    // So short that there is no copy at all: filled up to the four that a count needs.
    const padded = new Uint8Array(4);
    padded.set(bytes);
    out[o++] = 1;
    out.set(padded, o);
    o += 4;
  } else literals(from, n);
  out[o++] = END;
  out[o++] = 0;
  out[o++] = 0;
  return out.subarray(0, o);
}

import { isSoundText, soundText } from '../../drawing/sound-text.js';

/** Encoding names of the host's decoder for the code pages that `$DWGCODEPAGE` names. */
const ENCODINGS: Record<string, string> = {
  '874': 'windows-874',
  '932': 'shift_jis',
  '936': 'gbk',
  '949': 'euc-kr',
  '950': 'big5',
  '1361': 'euc-kr',
  '866': 'ibm866',
};

/** Decoders of the code pages that `\M+n` names: Japanese, traditional Chinese, Korean (twice), simplified Chinese. */
const MULTIBYTE = ['', 'shift_jis', 'big5', 'euc-kr', 'euc-kr', 'gbk'];

/** The decoder's name for a code page such as `ANSI_1252`; windows-1252 for one that is not known. */
export function encodingOf(codePage: string): string {
  const digits = /(\d+)$/.exec(codePage)?.[1] ?? '1252';
  if (ENCODINGS[digits]) return ENCODINGS[digits];
  if (/mac/i.test(codePage)) return 'macintosh';
  return /^125[0-8]$/.test(digits) ? `windows-${digits}` : 'windows-1252';
}

const TABLE_SIZE = 1 << 14;

/** Turns bytes into text and shares the strings that come again and again (layer names, handles of types). */
export class TextDecoding {
  private decoder: TextDecoder;
  /** Texts with characters that nothing can hold, which were replaced. */
  unsound = 0;
  private shared: (string | undefined)[] = new Array<string | undefined>(TABLE_SIZE);

  constructor(readonly encoding: string) {
    this.decoder = new TextDecoder(encoding);
  }

  /** The text of `bytes[start, end)`, with `\U+XXXX` escapes undone. */
  decode(bytes: Uint8Array, start: number, end: number): string {
    if (end - start <= 32) {
      let hash = end - start;
      let ascii = true;
      for (let i = start; i < end; i++) {
        const c = bytes[i]!;
        if (c >= 128 || c === 92 || c === 0) ascii = false;
        hash = (Math.imul(hash, 31) + c) | 0;
      }
      if (ascii) {
        const slot = hash & (TABLE_SIZE - 1);
        const known = this.shared[slot];
        if (known !== undefined && same(known, bytes, start, end)) return known;
        const text = asciiText(bytes, start, end);
        this.shared[slot] = text;
        return text;
      }
    }
    const text = this.decoder.decode(bytes.subarray(start, end));
    const whole = text.includes('+') && (text.includes('\\U+') || text.includes('\\M+')) ? unescapeUnicode(text) : text;
    if (isSoundText(whole)) return whole;
    this.unsound++;
    return soundText(whole);
  }

  /** The text without touching escapes. */
  decodeRaw(bytes: Uint8Array, start: number, end: number): string {
    return this.decoder.decode(bytes.subarray(start, end));
  }
}

/** Short ASCII in one allocation: handles come by the hundred thousand, and hardly ever twice. */
function asciiText(b: Uint8Array, at: number, end: number): string {
  const f = String.fromCharCode;
  switch (end - at) {
    case 0:
      return '';
    case 1:
      return f(b[at]!);
    case 2:
      return f(b[at]!, b[at + 1]!);
    case 3:
      return f(b[at]!, b[at + 1]!, b[at + 2]!);
    case 4:
      return f(b[at]!, b[at + 1]!, b[at + 2]!, b[at + 3]!);
    case 5:
      return f(b[at]!, b[at + 1]!, b[at + 2]!, b[at + 3]!, b[at + 4]!);
    case 6:
      return f(b[at]!, b[at + 1]!, b[at + 2]!, b[at + 3]!, b[at + 4]!, b[at + 5]!);
    default:
      return f(...b.subarray(at, end));
  }
}

function same(text: string, bytes: Uint8Array, start: number, end: number): boolean {
  if (text.length !== end - start) return false;
  for (let i = 0; i < text.length; i++) if (text.charCodeAt(i) !== bytes[start + i]) return false;
  return true;
}

/**
 * Undoes `\U+XXXX` (a pair of surrogates becomes one character) and `\M+nXXXX`, two bytes of code page n. What no such
 * page has stays as it stands.
 */
export const unescapeUnicode = (text: string): string =>
  text
    .replace(/\\U\+([0-9A-Fa-f]{4})/g, (_, digits: string) => String.fromCharCode(parseInt(digits, 16)))
    .replace(/\\M\+([1-5])([0-9A-Fa-f]{4})/g, (whole, page: string, digits: string) => {
      const n = parseInt(digits, 16);
      const decoded = new TextDecoder(MULTIBYTE[Number(page)]).decode(Uint8Array.of(n >> 8, n & 255));
      return decoded.includes('\ufffd') ? whole : decoded;
    });

import { isDrafting } from '../drawing/format-traits.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { isBinaryDxf } from './dxf/binary.js';
import { encodingOf } from './drafting/decoding.js';

/** The encodings that texts of older drawings come in, by the names that decoders know (WHATWG Encoding Standard). */
export const TEXT_ENCODINGS = [
  { name: 'windows-1252', title: 'Western European' },
  { name: 'windows-1250', title: 'Central European' },
  { name: 'windows-1251', title: 'Cyrillic' },
  { name: 'windows-1253', title: 'Greek' },
  { name: 'windows-1254', title: 'Turkish' },
  { name: 'windows-1255', title: 'Hebrew' },
  { name: 'windows-1256', title: 'Arabic' },
  { name: 'windows-1257', title: 'Baltic' },
  { name: 'windows-1258', title: 'Vietnamese' },
  { name: 'windows-874', title: 'Thai' },
  { name: 'ibm866', title: 'Cyrillic, DOS' },
  { name: 'macintosh', title: 'Western European, older Macintosh' },
  { name: 'shift_jis', title: 'Japanese' },
  { name: 'gbk', title: 'Chinese, simplified' },
  { name: 'big5', title: 'Chinese, traditional' },
  { name: 'euc-kr', title: 'Korean' },
  { name: 'utf-8', title: 'Unicode' },
] as const;

/** What an encoding is called; its own name where it has no other. */
export const encodingTitle = (name: string): string => TEXT_ENCODINGS.find((e) => e.name === name)?.title ?? name;

/** The encoding that a file says its texts are in: Unicode from 2007 on, its code page before. */
export function statedEncoding(drawing: Drawing): string {
  if (Number(drawing.version) >= 2007) return 'utf-8';
  return encodingOf(drawing.header.get('$DWGCODEPAGE')?.[0]?.[1] ?? 'ANSI_1252');
}

/** Texts of a file whose letters depend on the encoding, as each encoding has them. */
export interface EncodingSample {
  encoding: string;
  texts: string[];
  /** How many characters of the texts no such encoding has. */
  broken: number;
}

/** Texts that are looked at, and how much of a file. */
const MOST_TEXTS = 8;
const MOST_BYTES = 64 << 20;

/**
 * The first texts of a drafting file that hold letters beyond ASCII, in every encoding; empty when there are none. Those
 * without broken characters come first; UTF-8 that fits is hardly ever chance. The bytes of an ASCII DXF are looked at
 * themselves; of other files the texts are taken that were read in `encoding`, and turned back into bytes.
 */
export function encodingSamples(bytes: Uint8Array, drawing: Drawing, encoding: string): EncodingSample[] {
  if (!isDrafting(drawing)) return [];
  const plain = drawing.format === 'dxf' && !isBinaryDxf(bytes);
  return inEveryEncoding(plain ? linesBeyondAscii(bytes) : bytesOfTexts(drawing, encoding));
}

/** The first lines of a text file with bytes beyond ASCII, each once. */
function linesBeyondAscii(bytes: Uint8Array): Uint8Array[] {
  const lines: Uint8Array[] = [];
  const seen = new Set<string>();
  const end = Math.min(bytes.length, MOST_BYTES);
  for (let i = 0; i < end && lines.length < MOST_TEXTS; i++) {
    if (bytes[i]! < 0x80) continue;
    let from = i;
    while (from > 0 && bytes[from - 1] !== 10 && bytes[from - 1] !== 13 && i - from < 200) from--;
    let to = i;
    while (to < bytes.length && bytes[to] !== 10 && bytes[to] !== 13 && to - from < 200) to++;
    const line = bytes.subarray(from, to);
    const key = line.join();
    // What holds bytes below the blank is no line of text.
    if (!seen.has(key) && line.every((b) => b >= 32 || b === 9)) lines.push(line);
    seen.add(key);
    i = to;
  }
  return lines;
}

/** The first texts and layer names beyond ASCII as the bytes that they were read from; none for encodings of several bytes. */
function bytesOfTexts(drawing: Drawing, encoding: string): Uint8Array[] {
  const byChar = new Map<string, number>();
  const decoder = new TextDecoder(encoding);
  for (let b = 0x80; b < 0x100; b++) byChar.set(decoder.decode(Uint8Array.of(b)), b);
  const out: Uint8Array[] = [];
  const seen = new Set<string>();
  const look = (text: string): void => {
    if (out.length >= MOST_TEXTS || seen.has(text) || /^[\x00-\x7f]*$/.test(text)) return;
    seen.add(text);
    const codes = [...text].map((c) => (c < '\x80' ? c.charCodeAt(0) : byChar.get(c)));
    // What is in no byte came by an escape, and is right in any encoding.
    if (codes.every((c) => c !== undefined)) out.push(Uint8Array.from(codes));
  };
  for (const l of drawing.layers) look(l.name);
  const walk = (list: readonly Entity[]): void => {
    for (const e of list) {
      if (e.kind === 'text') look(e.text);
      else if (e.kind === 'richText') look(e.plain);
      else if (e.kind === 'insert') walk(e.attributes);
    }
  };
  walk(drawing.entities);
  for (const b of drawing.blocks.values()) walk(b.entities);
  return out;
}

function inEveryEncoding(lines: readonly Uint8Array[]): EncodingSample[] {
  if (lines.length === 0) return [];
  const samples = TEXT_ENCODINGS.map(({ name }) => {
    const decoder = new TextDecoder(name);
    const texts = lines.map((l) => decoder.decode(l).trim());
    const broken = texts.reduce(
      (n, t) => n + [...t].filter((c) => c === '\ufffd' || (c >= '\u0080' && c < '\u00a0')).length,
      0,
    );
    return { encoding: name as string, texts, broken };
  });
  const rank = (s: EncodingSample): number => (s.broken > 0 ? 1e6 + s.broken : s.encoding === 'utf-8' ? -1 : 0);
  return samples.sort((a, b) => rank(a) - rank(b));
}

import type { Paint } from '../drawing/appearance.js';
import { plainOfText } from './text-codes.js';

/** How a piece of rich text looks, where it differs from the whole. */
export interface RunStyle {
  family?: string;
  weight?: number;
  italic?: boolean;
  /** Height of capitals as a part of that of the whole. */
  height: number;
  widthFactor: number;
  oblique: number;
  paint?: Paint;
  underline: boolean;
  overline: boolean;
  strike: boolean;
}

export type Piece =
  | { kind: 'text'; text: string; style: RunStyle }
  /** A number over another; `bar` between them. */
  | { kind: 'stack'; top: string; bottom: string; bar: boolean; style: RunStyle };

export interface Paragraph {
  pieces: Piece[];
  align?: 'left' | 'centre' | 'right';
}

const PLAIN: RunStyle = { height: 1, widthFactor: 1, oblique: 0, underline: false, overline: false, strike: false };
const MOST_DEPTH = 64;

/**
 * Drafting rich text taken apart into paragraphs of pieces (DXF reference, MTEXT formatting codes). `size` is the height
 * that absolute heights are measured against. Codes that nobody knows are passed over; braces that do not match are
 * forgiven.
 */
export function parseRich(content: string, size: number): Paragraph[] {
  const paragraphs: Paragraph[] = [{ pieces: [] }];
  let style = PLAIN;
  const stack: RunStyle[] = [];
  let text = '';
  let align: Paragraph['align'];
  const here = (): Paragraph => paragraphs[paragraphs.length - 1]!;
  const flush = (): void => {
    if (text === '') return;
    here().pieces.push({ kind: 'text', text: plainOfText(text), style });
    text = '';
  };
  const change = (next: Partial<RunStyle>): void => {
    flush();
    style = { ...style, ...next };
  };
  const paragraph = (): void => {
    flush();
    paragraphs.push({ pieces: [], ...(align && { align }) });
  };
  for (let i = 0; i < content.length; i++) {
    const c = content[i];
    if (c === '{') {
      flush();
      if (stack.length < MOST_DEPTH) stack.push(style);
    } else if (c === '}') {
      flush();
      style = stack.pop() ?? style;
    } else if (c === '^' && i + 1 < content.length) {
      const next = content[++i];
      if (next === 'J') paragraph();
      else if (next === 'I') text += '    ';
      else if (next === ' ') text += '^';
    } else if (c !== '\\' || i + 1 >= content.length) text += c;
    else {
      const code = content[++i]!;
      if (code === 'P' || code === 'N') paragraph();
      else if (code === '~') text += '\u00a0';
      else if ('\\{}'.includes(code)) text += code;
      else if ('LlOoKk'.includes(code)) {
        const on = code === code.toUpperCase();
        const what = { l: 'underline', o: 'overline', k: 'strike' }[code.toLowerCase()]!;
        change({ [what]: on });
      } else if ('ACcFfHhpQTWwS'.includes(code)) {
        const end = content.indexOf(';', i);
        const value = content.slice(i + 1, end < 0 ? content.length : end);
        i = end < 0 ? content.length : end;
        if (code === 'S') {
          flush();
          here().pieces.push(stacked(value, style));
        } else if (code === 'p') {
          const q = /q([lcrjd])/.exec(value)?.[1];
          if (q) {
            align = q === 'c' ? 'centre' : q === 'r' ? 'right' : 'left';
            here().align = align;
          }
        } else change(changed(code, value, style, size));
      } else text += code;
    }
  }
  flush();
  return paragraphs;
}

function changed(code: string, value: string, style: RunStyle, size: number): Partial<RunStyle> {
  const relative = /x$/i.test(value);
  const n = Number(value.replace(/x$/i, ''));
  const good = value.trim() !== '' && Number.isFinite(n);
  switch (code) {
    case 'f':
    case 'F': {
      const family = value.split('|')[0]!.replace(/\.(shx|ttf|otf)$/i, '');
      const flag = (l: string): boolean => new RegExp(`\\|${l}1`, 'i').test(value);
      return family ? { family, weight: flag('b') ? 700 : 400, italic: flag('i') } : {};
    }
    case 'H':
    case 'h':
      if (!good || n <= 0) return {};
      return { height: relative ? style.height * n : n / size };
    case 'W':
    case 'w':
      return good && n > 0 ? { widthFactor: relative ? style.widthFactor * n : n } : {};
    case 'Q':
      return good && Math.abs(n) < 85 ? { oblique: (n * Math.PI) / 180 } : {};
    case 'C':
      if (!good) return {};
      if (n === 256) return { paint: undefined };
      return n === 0 ? { paint: { kind: 'byBlock' } } : { paint: { kind: 'index', index: n & 255 } };
    case 'c': {
      // Blue comes first here.
      if (!good) return {};
      return { paint: { kind: 'rgb', rgb: ((n & 255) << 16) | (n & 0xff00) | ((n >> 16) & 255) } };
    }
    default:
      return {};
  }
}

function stacked(value: string, style: RunStyle): Piece {
  const at = value.search(/[/#^]/);
  if (at < 0) return { kind: 'text', text: value, style };
  const [top, bottom] = [value.slice(0, at).trim(), value.slice(at + 1).trim()];
  if (value[at] === '#') return { kind: 'text', text: `${top}/${bottom}`, style };
  return { kind: 'stack', top, bottom, bar: value[at] === '/', style };
}

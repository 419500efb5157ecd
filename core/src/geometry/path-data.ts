import type { PathData } from './path.js';
import { PathBuilder } from './path.js';

/** Reads numbers and flags of path data one after the other. */
class PathScanner {
  i = 0;
  constructor(private readonly s: string) {}

  private skip(): void {
    for (;;) {
      const c = this.s.charCodeAt(this.i);
      if (c === 32 || c === 44 || (c >= 9 && c <= 13)) this.i++;
      else return;
    }
  }

  /** The next command letter, or '' when a number or the end follows. */
  command(): string {
    this.skip();
    const c = this.s.charCodeAt(this.i) | 32;
    if (c >= 97 && c <= 122 && c !== 101) return this.s[this.i++];
    return '';
  }

  get done(): boolean {
    this.skip();
    return this.i >= this.s.length;
  }

  number(): number {
    this.skip();
    const { s } = this;
    const start = this.i;
    let i = start;
    let c = s.charCodeAt(i);
    if (c === 43 || c === 45) c = s.charCodeAt(++i);
    const digits = (): number => {
      const from = i;
      while (c >= 48 && c <= 57) c = s.charCodeAt(++i);
      return i - from;
    };
    let n = digits();
    if (c === 46) {
      c = s.charCodeAt(++i);
      n += digits();
    }
    if (n === 0) return NaN;
    if (c === 101 || c === 69) {
      const keep = i;
      c = s.charCodeAt(++i);
      if (c === 43 || c === 45) c = s.charCodeAt(++i);
      if (digits() === 0) i = keep;
    }
    this.i = i;
    return Number(s.slice(start, i));
  }

  /** A flag is one character, with or without a separator after it. */
  flag(): number {
    this.skip();
    const c = this.s[this.i];
    if (c !== '0' && c !== '1') return NaN;
    this.i++;
    return c === '1' ? 1 : 0;
  }
}

/**
 * Path data as SVG 2 §9.3 describes it, in absolute coordinates; smooth commands get their reflected point. Where an
 * error stands, everything before it is kept (§9.5.4) and `error` says at which character.
 */
export function parsePathData(d: string): { path: PathData; error: number | null } {
  const s = new PathScanner(d);
  const out = new PathBuilder();
  let [x, y, sx, sy] = [0, 0, 0, 0];
  let [cx, cy] = [0, 0];
  let previous = '';
  let closed = false;
  let error: number | null = null;
  let letter = '';
  while (!s.done) {
    const at = s.i;
    const next = s.command();
    if (next) letter = next;
    else if (letter === '') {
      error = at;
      break;
    } else if (letter === 'M') letter = 'L';
    else if (letter === 'm') letter = 'l';
    const relative = letter >= 'a';
    const command = letter.toUpperCase();
    const [ox, oy] = relative ? [x, y] : [0, 0];
    if (command === 'Z') {
      if (!next) {
        error = at;
        break;
      }
      out.close();
      [x, y] = [sx, sy];
      closed = true;
      previous = 'Z';
      continue;
    }
    const n = { M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7 }[command];
    if (n === undefined) {
      error = at;
      break;
    }
    const v: number[] = [];
    for (let k = 0; k < n; k++) v.push(command === 'A' && (k === 3 || k === 4) ? s.flag() : s.number());
    if (v.some((k) => !Number.isFinite(k)) || (previous === '' && command !== 'M')) {
      error = at;
      break;
    }
    if (closed && command !== 'M') out.moveTo(sx, sy);
    closed = false;
    switch (command) {
      case 'M':
        [x, y] = [ox + v[0], oy + v[1]];
        [sx, sy] = [x, y];
        out.moveTo(x, y);
        break;
      case 'L':
        [x, y] = [ox + v[0], oy + v[1]];
        out.lineTo(x, y);
        break;
      case 'H':
        x = ox + v[0];
        out.lineTo(x, y);
        break;
      case 'V':
        y = oy + v[0];
        out.lineTo(x, y);
        break;
      case 'C':
      case 'S': {
        const smooth = command === 'S';
        const reflect = previous === 'C' || previous === 'S';
        const [x1, y1] = smooth ? (reflect ? [2 * x - cx, 2 * y - cy] : [x, y]) : [ox + v[0], oy + v[1]];
        const k = smooth ? 0 : 2;
        [cx, cy] = [ox + v[k], oy + v[k + 1]];
        [x, y] = [ox + v[k + 2], oy + v[k + 3]];
        out.cubicTo(x1, y1, cx, cy, x, y);
        break;
      }
      case 'Q':
      case 'T': {
        const reflect = previous === 'Q' || previous === 'T';
        if (command === 'Q') [cx, cy] = [ox + v[0], oy + v[1]];
        else [cx, cy] = reflect ? [2 * x - cx, 2 * y - cy] : [x, y];
        const k = command === 'Q' ? 2 : 0;
        [x, y] = [ox + v[k], oy + v[k + 1]];
        out.quadTo(cx, cy, x, y);
        break;
      }
      case 'A': {
        const end: [number, number] = [ox + v[5], oy + v[6]];
        // Equal ends draw nothing, a zero radius a line (SVG 2 §9.5.1).
        if (v[0] === 0 || v[1] === 0) out.lineTo(...end);
        else if (end[0] !== x || end[1] !== y) {
          out.arcTo(Math.abs(v[0]), Math.abs(v[1]), (v[2] * Math.PI) / 180, v[3] === 1, v[4] === 1, ...end);
        }
        [x, y] = end;
        break;
      }
    }
    previous = command;
  }
  return { path: out.build(), error };
}

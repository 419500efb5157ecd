import { UserError } from '../errors.js';
import { PathBuilder } from '../geometry/path.js';
import { bulgeArc } from '../geometry/arcs.js';
import type { StrokeFont, StrokeGlyph } from './stroke-font.js';
import { partsOfSweep } from '../geometry/tolerance.js';

/** The two forms of compiled stroke fonts that are read: by shape number, and by Unicode code point. */
const SIGNATURE = /^[\x20-\x7e]{3,40}?(shapes|unifont) V?1\.[01]\r\n\x1a/i;
const MAX_OPERATIONS = 20_000;
const MAX_DEPTH = 12;

export const isCompiledStrokes = (bytes: Uint8Array): boolean =>
  SIGNATURE.test(new TextDecoder('windows-1252').decode(bytes.subarray(0, 64)));

/**
 * Reads a compiled drafting stroke font: per shape a byte program of pen moves (short vectors in sixteen directions,
 * long ones, octant, fractional and bulge arcs, a stack, subshapes). Shape 0 states the height of capitals and the
 * drop below the line. Throws `UserError` when the bytes are no such font.
 */
export function loadCompiledStrokes(family: string, bytes: Uint8Array): StrokeFont {
  const head = SIGNATURE.exec(new TextDecoder('windows-1252').decode(bytes.subarray(0, 64)));
  if (!head) throw new UserError('unreadable-font', `"${family}" is no compiled stroke font`);
  const unicode = head[1]!.toLowerCase() === 'unifont';
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const programs = new Map<number, Uint8Array>();
  let at = head[0].length;
  const u16 = (): number => {
    if (at + 2 > bytes.length) throw new UserError('unreadable-font', `"${family}" is cut off at byte ${bytes.length}`);
    at += 2;
    return view.getUint16(at - 2, true);
  };
  if (unicode) {
    u16();
    const length = u16();
    programs.set(0, bytes.subarray(at, at + length));
    at += length;
    while (at + 4 <= bytes.length) {
      const number = u16();
      const size = u16();
      if (at + size > bytes.length) break;
      programs.set(number, bytes.subarray(at, at + size));
      at += size;
    }
  } else {
    u16();
    u16();
    const count = u16();
    const index: [number, number][] = [];
    for (let i = 0; i < count; i++) index.push([u16(), u16()]);
    for (const [number, size] of index) {
      if (at + size > bytes.length) break;
      programs.set(number, bytes.subarray(at, at + size));
      at += size;
    }
  }
  // Each program begins with its name, ended by a zero; shape 0 then has above, below and modes.
  const zero = afterName(programs.get(0) ?? new Uint8Array(0));
  const above = zero[0] || 0;
  if (above === 0) throw new UserError('unreadable-font', `"${family}" states no height of capitals`);
  const scale = 1 / above;
  const cache = new Map<number, StrokeGlyph | null>();
  const draw = (number: number): StrokeGlyph | null => {
    const program = programs.get(number);
    if (!program || number === 0) return null;
    const pen = new Pen(programs, unicode);
    pen.run(afterName(program), 0);
    return { path: pen.path(scale * CAPITAL), advance: pen.x * scale * CAPITAL };
  };
  return {
    family,
    capital: CAPITAL,
    glyph(codePoint) {
      const number = unicode ? codePoint : (SHAPE_NUMBERS[codePoint] ?? codePoint);
      if (!cache.has(number)) cache.set(number, draw(number));
      return cache.get(number) ?? null;
    },
  };
}

/** Such a font has no em: capitals are put at 0.7 of one, as in most. */
const CAPITAL = 0.7;

/** Where fonts by shape number keep the signs of degree, plus-minus and diameter. */
const SHAPE_NUMBERS: Record<number, number> = { 0xb0: 127, 0xb1: 128, 0xd8: 129, 0x2205: 129 };

const afterName = (p: Uint8Array): Uint8Array => p.subarray(p.indexOf(0) + 1);

/** Directions of short vectors: sixteen, in steps of about 22.5°, on a grid. */
const DX = [1, 1, 1, 0.5, 0, -0.5, -1, -1, -1, -1, -1, -0.5, 0, 0.5, 1, 1];
const DY = [0, 0.5, 1, 1, 1, 1, 1, 0.5, 0, -0.5, -1, -1, -1, -1, -1, -0.5];

class Pen {
  x = 0;
  private y = 0;
  private down = true;
  private factor = 1;
  private readonly stack: [number, number][] = [];
  private readonly out: { cmd: 'm' | 'l' | 'a'; n: number[] }[] = [];
  private fresh = true;
  private operations = 0;

  constructor(
    private readonly programs: ReadonlyMap<number, Uint8Array>,
    private readonly unicode: boolean,
  ) {}

  path(k: number): ReturnType<PathBuilder['build']> {
    const b = new PathBuilder();
    for (const { cmd, n } of this.out) {
      if (cmd === 'm') b.moveTo(n[0]! * k, n[1]! * k);
      else if (cmd === 'l') b.lineTo(n[0]! * k, n[1]! * k);
      else b.arcTo(n[0]! * k, n[0]! * k, 0, n[1] !== 0, n[2] !== 0, n[3]! * k, n[4]! * k);
    }
    return b.build();
  }

  private start(): void {
    if (this.fresh) this.out.push({ cmd: 'm', n: [this.x, this.y] });
    this.fresh = false;
  }

  private move(dx: number, dy: number): void {
    if (this.down) this.start();
    this.x += dx * this.factor;
    this.y += dy * this.factor;
    if (this.down) this.out.push({ cmd: 'l', n: [this.x, this.y] });
    else this.fresh = true;
  }

  private arc(cx: number, cy: number, radius: number, from: number, sweep: number): void {
    // In pieces of no more than half a turn, so that each has one meaning.
    const n = partsOfSweep(sweep, Math.PI);
    for (let i = 1; i <= n; i++) {
      const a = from + (sweep * i) / n;
      if (this.down) this.start();
      this.x = cx + radius * Math.cos(a);
      this.y = cy + radius * Math.sin(a);
      if (this.down) this.out.push({ cmd: 'a', n: [radius, 0, sweep > 0 ? 1 : 0, this.x, this.y] });
      else this.fresh = true;
    }
  }

  private bulge(dx: number, dy: number, bulge: number): void {
    const [x1, y1] = [this.x + dx * this.factor, this.y + dy * this.factor];
    const a = bulge === 0 ? null : bulgeArc(this.x, this.y, x1, y1, bulge / 127);
    if (!a) return this.move(dx, dy);
    this.arc(a.cx, a.cy, a.radius, a.start, a.sweep);
    [this.x, this.y] = [x1, y1];
  }

  /** Runs a program. `skip` on 14: what follows is for writing downwards only. */
  run(p: Uint8Array, depth: number): void {
    let i = 0;
    const signed = (): number => ((p[i++] ?? 0) << 24) >> 24;
    let skip = false;
    while (i < p.length && this.operations++ < MAX_OPERATIONS) {
      const op = p[i++]!;
      if (op === 0) return;
      if (skip) {
        // The one command that follows is passed over, arguments and all.
        skip = false;
        i += this.argumentsOf(op, p, i);
        continue;
      }
      if (op > 15) {
        const length = op >> 4;
        this.move(DX[op & 15]! * length, DY[op & 15]! * length);
        continue;
      }
      switch (op) {
        case 1:
          this.down = true;
          this.fresh = true;
          break;
        case 2:
          this.down = false;
          break;
        case 3:
          this.factor /= p[i++] || 1;
          break;
        case 4:
          this.factor *= p[i++] || 1;
          break;
        case 5:
          if (this.stack.length < 8) this.stack.push([this.x, this.y]);
          break;
        case 6: {
          const top = this.stack.pop();
          if (top) [this.x, this.y] = top;
          this.fresh = true;
          break;
        }
        case 7: {
          const number = this.unicode ? ((p[i++] ?? 0) << 8) | (p[i++] ?? 0) : (p[i++] ?? 0);
          const sub = this.programs.get(number);
          if (sub && depth < MAX_DEPTH) this.run(afterName(sub), depth + 1);
          break;
        }
        case 8:
          this.move(signed(), signed());
          break;
        case 9:
          for (let n = 0; n < 4096 && i < p.length; n++) {
            const [dx, dy] = [signed(), signed()];
            if (dx === 0 && dy === 0) break;
            this.move(dx, dy);
          }
          break;
        case 10: {
          const radius = (p[i++] ?? 0) * this.factor;
          const b = p[i++] ?? 0;
          const from = (((b >> 4) & 7) * Math.PI) / 4;
          const octants = b & 7 || 8;
          const sweep = ((b & 128 ? -1 : 1) * octants * Math.PI) / 4;
          this.arc(this.x - radius * Math.cos(from), this.y - radius * Math.sin(from), radius, from, sweep);
          break;
        }
        case 11: {
          const [first, last, high, low, b] = [p[i], p[i + 1], p[i + 2], p[i + 3], p[i + 4]].map((v) => v ?? 0);
          i += 5;
          const radius = (256 * high! + low!) * this.factor;
          const octants = b! & 7 || 8;
          const turn = b! & 128 ? -1 : 1;
          const begin = (((b! >> 4) & 7) * Math.PI) / 4;
          const part = (v: number): number => (v * Math.PI) / 4 / 256;
          const from = begin + turn * part(first!);
          const end = begin + turn * ((octants - (last ? 1 : 0)) * (Math.PI / 4) + part(last!));
          this.arc(this.x - radius * Math.cos(from), this.y - radius * Math.sin(from), radius, from, end - from);
          break;
        }
        case 12: {
          const [dx, dy, b] = [signed(), signed(), signed()];
          this.bulge(dx, dy, b);
          break;
        }
        case 13:
          for (let n = 0; n < 4096 && i < p.length; n++) {
            const [dx, dy] = [signed(), signed()];
            if (dx === 0 && dy === 0) break;
            this.bulge(dx, dy, signed());
          }
          break;
        case 14:
          skip = true;
          break;
      }
    }
  }

  /** How many bytes a command takes after itself. */
  private argumentsOf(op: number, p: Uint8Array, i: number): number {
    if (op === 3 || op === 4) return 1;
    if (op === 7) return this.unicode ? 2 : 1;
    if (op === 8 || op === 10) return 2;
    if (op === 11) return 5;
    if (op === 12) return 3;
    if (op === 9 || op === 13) {
      const step = op === 9 ? 2 : 3;
      let n = 0;
      while (i + n + 1 < p.length && (p[i + n] !== 0 || p[i + n + 1] !== 0)) n += step;
      return n + 2;
    }
    return 0;
  }
}

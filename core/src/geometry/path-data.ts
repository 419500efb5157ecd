import type { PathData } from './path.js';
import type { DoublePool } from './pool.js';
import { CMD_LENGTH, Cmd } from './path.js';

/** Powers of ten that a double holds exactly: a whole number of at most 15 digits over one of them is rounded once. */
const TEN = Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));
const MOST_EXACT = 1e15;

/** Room for the path that is being read; grown as needed and used again for the next. */
let cmds = new Uint8Array(1024);
let data = new Float64Array(4096);

function makeRoom(): void {
  const widerCommands = new Uint8Array(2 * cmds.length);
  widerCommands.set(cmds);
  cmds = widerCommands;
  const widerData = new Float64Array(2 * data.length);
  widerData.set(data);
  data = widerData;
}

/** Reads numbers and flags of path data one after the other. */
class PathScanner {
  i = 0;
  constructor(private readonly s: string) {}

  skip(): void {
    const { s } = this;
    let { i } = this;
    for (;;) {
      const c = s.charCodeAt(i);
      if (c !== 32 && c !== 44 && !(c >= 9 && c <= 13)) break;
      i++;
    }
    this.i = i;
  }

  /** The code of the next command letter, or 0 when a number or the end follows. Blanks before it are skipped. */
  command(): number {
    const c = this.s.charCodeAt(this.i);
    const low = c | 32;
    if (low < 97 || low > 122 || low === 101) return 0;
    this.i++;
    return c;
  }

  /** The next number; NaN where none stands. */
  number(): number {
    this.skip();
    const { s } = this;
    const start = this.i;
    let i = start;
    let c = s.charCodeAt(i);
    const minus = c === 45;
    if (c === 43 || minus) c = s.charCodeAt(++i);
    let m = 0;
    const first = i;
    for (; c >= 48 && c <= 57; c = s.charCodeAt(++i)) m = m * 10 + (c - 48);
    let digits = i - first;
    let after = 0;
    if (c === 46) {
      const from = ++i;
      for (c = s.charCodeAt(i); c >= 48 && c <= 57; c = s.charCodeAt(++i)) m = m * 10 + (c - 48);
      after = i - from;
      digits += after;
    }
    if (digits === 0) return NaN;
    if (c === 101 || c === 69) {
      const keep = i;
      c = s.charCodeAt(++i);
      if (c === 43 || c === 45) c = s.charCodeAt(++i);
      const from = i;
      while (c >= 48 && c <= 57) c = s.charCodeAt(++i);
      if (i > from) {
        this.i = i;
        return Number(s.slice(start, i));
      }
      i = keep;
    }
    this.i = i;
    if (m >= MOST_EXACT || after > 22) return Number(s.slice(start, i));
    const v = after === 0 ? m : m / TEN[after]!;
    return minus ? -v : v;
  }

  /** A flag is one character, with or without a separator after it. */
  flag(): number {
    this.skip();
    const c = this.s.charCodeAt(this.i);
    if (c !== 48 && c !== 49) return NaN;
    this.i++;
    return c - 48;
  }
}

const ARGUMENT_VALUES = new Float64Array(7);

/** The commands just read; those of the path before where they are the same, as in most files of many like paths. */
let before = new Uint8Array(0);
function sameCommands(n: number): Uint8Array {
  let same = before.length === n;
  for (let i = 0; same && i < n; i++) same = before[i] === cmds[i];
  if (!same) before = cmds.slice(0, n);
  return before;
}

/** How many numbers follow each command, by its capital letter's code. */
const ARGUMENTS = new Int8Array(128).fill(-1);
for (const [letter, n] of Object.entries({ M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7, Z: 0 }))
  ARGUMENTS[letter.charCodeAt(0)] = n;
const [M, L, H, V, C, S, Q, T, A, Z] = [...'MLHVCSQTAZ'].map((c) => c.charCodeAt(0));

/**
 * Path data as SVG 2 §9.3 describes it, in absolute coordinates; smooth commands get their reflected point. Where an
 * error stands, everything before it is kept (§9.5.4) and `error` says at which character. With a pool the numbers
 * stand in one of its buffers.
 */
export function parsePathData(d: string, pool?: DoublePool): { path: PathData; error: number | null } {
  const s = new PathScanner(d);
  const v = ARGUMENT_VALUES;
  let nc = 0;
  let nd = 0;
  let x = 0;
  let y = 0;
  let sx = 0;
  let sy = 0;
  let cx = 0;
  let cy = 0;
  let previous = 0;
  let closed = false;
  let error: number | null = null;
  let letter = 0;
  for (;;) {
    s.skip();
    if (s.i >= d.length) break;
    // A command adds at most a move and itself.
    if (nc + 2 > cmds.length || nd + 10 > data.length) makeRoom();
    const at = s.i;
    const next = s.command();
    if (next !== 0) letter = next;
    else if (letter === 0) {
      error = at;
      break;
    } else if (letter === M) letter = L!;
    else if (letter === M! + 32) letter = L! + 32;
    const relative = letter >= 97;
    const command = relative ? letter - 32 : letter;
    const n = ARGUMENTS[command]!;
    if (n < 0 || (command === Z && next === 0) || (previous === 0 && command !== M)) {
      error = at;
      break;
    }
    if (command === Z) {
      cmds[nc++] = Cmd.Close;
      x = sx;
      y = sy;
      closed = true;
      previous = Z;
      continue;
    }
    let good = true;
    for (let k = 0; k < n; k++) {
      v[k] = command === A && (k === 3 || k === 4) ? s.flag() : s.number();
      // Also not the case for NaN.
      if (!(v[k]! < Infinity && v[k]! > -Infinity)) good = false;
    }
    if (!good) {
      error = at;
      break;
    }
    const ox = relative ? x : 0;
    const oy = relative ? y : 0;
    if (closed && command !== M) {
      cmds[nc++] = Cmd.Move;
      data[nd++] = sx;
      data[nd++] = sy;
    }
    closed = false;
    if (command === L || command === M) {
      x = ox + v[0]!;
      y = oy + v[1]!;
      cmds[nc++] = command === M ? Cmd.Move : Cmd.Line;
      if (command === M) {
        sx = x;
        sy = y;
      }
    } else if (command === H || command === V) {
      if (command === H) x = ox + v[0]!;
      else y = oy + v[0]!;
      cmds[nc++] = Cmd.Line;
    } else if (command === C || command === S) {
      cmds[nc++] = Cmd.Cubic;
      let k = 0;
      if (command === C) {
        data[nd] = ox + v[0]!;
        data[nd + 1] = oy + v[1]!;
        k = 2;
      } else {
        const reflect = previous === C || previous === S;
        data[nd] = reflect ? 2 * x - cx : x;
        data[nd + 1] = reflect ? 2 * y - cy : y;
      }
      cx = ox + v[k]!;
      cy = oy + v[k + 1]!;
      data[nd + 2] = cx;
      data[nd + 3] = cy;
      nd += 4;
      x = ox + v[k + 2]!;
      y = oy + v[k + 3]!;
    } else if (command === Q || command === T) {
      cmds[nc++] = Cmd.Quad;
      if (command === Q) {
        cx = ox + v[0]!;
        cy = oy + v[1]!;
      } else {
        const reflect = previous === Q || previous === T;
        cx = reflect ? 2 * x - cx : x;
        cy = reflect ? 2 * y - cy : y;
      }
      data[nd++] = cx;
      data[nd++] = cy;
      const k = command === Q ? 2 : 0;
      x = ox + v[k]!;
      y = oy + v[k + 1]!;
    } else {
      const ex = ox + v[5]!;
      const ey = oy + v[6]!;
      // Equal ends draw nothing, a zero radius a line (SVG 2 §9.5.1).
      const line = v[0] === 0 || v[1] === 0;
      if (!line && ex === x && ey === y) {
        previous = command;
        continue;
      }
      cmds[nc++] = line ? Cmd.Line : Cmd.Arc;
      if (!line) {
        data[nd] = Math.abs(v[0]!);
        data[nd + 1] = Math.abs(v[1]!);
        data[nd + 2] = (v[2]! * Math.PI) / 180;
        data[nd + 3] = v[3]!;
        data[nd + 4] = v[4]!;
        nd += CMD_LENGTH[Cmd.Arc] - 2;
      }
      x = ex;
      y = ey;
    }
    data[nd++] = x;
    data[nd++] = y;
    previous = command;
  }
  const numbers = pool ? pool.take(nd) : new Float64Array(nd);
  for (let i = 0; i < nd; i++) numbers[i] = data[i]!;
  return { path: { cmds: sameCommands(nc), data: numbers }, error };
}

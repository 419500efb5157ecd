import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { IDENTITY, applyPoint } from '../../src/geometry/affine.js';
import { entityToWorld } from '../../src/drawing/curves.js';
import { flattenEntity } from '../../src/drawing/flatten.js';
import type { Visit } from '../../src/drawing/resolve.js';
import { walk } from '../../src/drawing/resolve.js';
import { NO_DECISIONS, deliver, prepare, targetFor } from '../../src/index.js';
import { hasEzdxf, runEzdxf } from '../ezdxf.js';
import { bytesOf, fonts, read } from '../helpers.js';
import { generatedArt } from '../witness/generated-art.js';

const oracle = hasEzdxf('no independent program says where the curves of our files lie');

type Chords = [number, number][];
interface Judged {
  handle: string;
  kind: string;
  block: string | null;
  curves: Chords[];
  letters: [number, number] | null;
}

/** What an independent program draws for each entity of files. */
const judged = (...files: string[]): Judged[][] => JSON.parse(runEzdxf('paths.py', ...files)) as Judged[][];

/** What we draw for each top-level entity, letters and endless lines left out; by handle. */
function ours(drawing: Drawing): Map<string, { entity: Entity; curves: Chords[] }> {
  const out = new Map<string, { entity: Entity; curves: Chords[] }>();
  for (const e of drawing.entities) if (e.sheet === undefined) out.set(e.key!.toUpperCase(), { entity: e, curves: [] });
  const visit = ({ entity, toWorld, top }: Visit): void => {
    const { curves } = out.get(top.key!.toUpperCase())!;
    if (entity.kind === 'text' || entity.kind === 'richText' || entity.kind === 'ray') return;
    if (entity.kind === 'viewport') return;
    if (entity.kind === 'point') {
      const [x, y] = applyPoint(toWorld, entity.at);
      curves.push([[x, y]]);
      return;
    }
    flattenEntity(entity, toWorld, 1e-3, {
      moveTo: (x, y) => void curves.push([[x, y]]),
      lineTo: (x, y) => void curves[curves.length - 1]!.push([x, y]),
    });
  };
  walk(drawing, visit, { hidden: true });
  return out;
}

/** Chords in groups of 32 with their boxes, so that most are passed over at once. */
interface Stretch {
  chords: Chords;
  box: [minX: number, minY: number, maxX: number, maxY: number];
}
const stretches = (curves: readonly Chords[]): Stretch[] =>
  curves.flatMap((c) =>
    Array.from({ length: Math.max(1, Math.ceil((c.length - 1) / 32)) }, (_, i): Stretch => {
      const chords = c.slice(32 * i, 32 * i + 33);
      const [xs, ys] = [chords.map((p) => p[0]), chords.map((p) => p[1])];
      return { chords, box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] };
    }),
  );

/** The largest distance from points on the chords of `a`, ends and middles, to the chords of `b`. */
function farthest(a: readonly Chords[], b: readonly Chords[]): number {
  let most = 0;
  const all = stretches(b);
  const near = (x: number, y: number): number => {
    let best = Infinity;
    for (const { chords: c, box } of all) {
      if (Math.hypot(Math.max(0, box[0] - x, x - box[2]), Math.max(0, box[1] - y, y - box[3])) >= best) continue;
      for (let i = 0; i < Math.max(1, c.length - 1); i++) {
        const [x0, y0] = c[i]!;
        const [x1, y1] = c[i + 1] ?? c[i]!;
        const [dx, dy] = [x1 - x0, y1 - y0];
        const t = Math.max(0, Math.min(1, ((x - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy || 1)));
        best = Math.min(best, Math.hypot(x0 + t * dx - x, y0 + t * dy - y));
      }
    }
    return best;
  };
  for (const c of a)
    for (let i = 0; i < c.length; i++) {
      const [x, y] = c[i]!;
      const [u, v] = c[i + 1] ?? c[i]!;
      most = Math.max(most, near(x, y), near((x + u) / 2, (y + v) / 2));
    }
  return most;
}

const sizeOf = (curves: readonly Chords[]): number => {
  const all = curves.flat();
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])];
  return Math.hypot(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)) || 1;
};

/** How far off curves may be, as a part of their size: that program draws arcs as cubics, which stray by 3 parts in 10,000. */
const CUBICS = 5e-4;
/** Splines with weights as well, and arrows of multileaders. */
const COARSE = 1e-3;
/** A curve through given points is each program's own between them; that program's along leaders even changes with the unit. */
function allowed(e: Entity): number {
  if (e.kind === 'spline') return e.fitOnly ? 0.03 : COARSE;
  if (e.kind === 'leader' && e.curved) return Infinity;
  return e.kind === 'opaque' ? COARSE : CUBICS;
}

interface Difference {
  compared: number;
  wrong: string[];
}

/**
 * Where what is seen there is not what is here; `scale`: units here to one there. Objects without their like under the same
 * handle, as older versions hold them in pieces, are held against each other as one.
 */
function differences(there: readonly Judged[], here: ReturnType<typeof ours>, scale = 1): Difference {
  const wrong: string[] = [];
  let compared = 0;
  const left = new Map(here);
  const pieces: Chords[] = [];
  const hold = (
    what: string,
    theirs: readonly Chords[],
    mine: readonly Chords[],
    most: number,
    partly: boolean,
  ): void => {
    compared++;
    const size = sizeOf(theirs);
    const missing = partly ? 0 : farthest(theirs, mine) / size;
    const added = farthest(mine, theirs) / size;
    if (!(Math.max(missing, added) <= most)) wrong.push(`${what}: off by ${missing}, ${added} of ${size}`);
  };
  for (const { handle, kind, curves, letters } of there) {
    const theirs = curves.map((c) => c.map(([x, y]): [number, number] => [x * scale, y * scale]));
    const mine = here.get(handle);
    if (!mine) {
      pieces.push(...theirs);
      continue;
    }
    left.delete(handle);
    const { entity } = mine;
    const what = `${kind} ${handle}`;
    if (letters && (entity.kind === 'text' || entity.kind === 'richText')) {
      const [x, y] = applyPoint(entityToWorld(entity, IDENTITY), entity.at);
      if (Math.hypot(x - letters[0] * scale, y - letters[1] * scale) > 1e-6) wrong.push(`${what} starts at ${x}, ${y}`);
      compared++;
    } else if (theirs.length > 0 && mine.curves.length > 0) {
      // Of nets, edges that are not to be seen are drawn there all the same.
      hold(what, theirs, mine.curves, allowed(entity), entity.kind === 'mesh' || entity.kind === 'face');
    } else if (theirs.length + mine.curves.length > 0 && entity.look.visible)
      wrong.push(`${what}: ${theirs.length} curves there, ${mine.curves.length} here`);
  }
  const unpaired = [...left.values()].flatMap((l) => l.curves);
  if (pieces.length > 0 && unpaired.length > 0) hold('pieces', pieces, unpaired, COARSE, false);
  else if (pieces.length + unpaired.length > 0) wrong.push(`${pieces.length} pieces there, ${unpaired.length} here`);
  return { compared, wrong };
}

const VERSIONS = ['R12', '2000', '2004', '2007', '2010', '2013', '2018'];
const kept = (name: string): string => fileURLToPath(new URL(`../files/${name}`, import.meta.url));

describe.skipIf(!oracle)('curves of every kind lie where an independent program sees them', () => {
  const folder = oracle ? mkdtempSync(join(tmpdir(), 'scalaria-paths-')) : '';
  const sources = ['R12', 'R2000', 'R2004', 'R2007', 'R2010', 'R2013', 'R2018'].map((n) => join(folder, `${n}.dxf`));
  beforeAll(() => void runEzdxf('make.py', folder), 120_000);

  it('in its own files, as we read them', () => {
    const files = [...sources, kept('every-kind.dxf'), kept('every-kind-r12.dxf')];
    judged(...files).forEach((there, i) => {
      const { compared, wrong } = differences(there, ours(read(readFileSync(files[i]!))));
      expect(wrong, files[i]).toEqual([]);
      expect(compared).toBeGreaterThan(20);
    });
  });

  it('in files that we write', () => {
    const source = read(readFileSync(kept('every-kind.dxf')));
    const made = VERSIONS.map((version) => {
      const path = join(folder, `ours-${version}.dxf`);
      writeFileSync(path, deliver(source, targetFor('dxf', { unit: 'in', version }), 'a', fonts()).bytes);
      return path;
    });
    judged(...made).forEach((there, i) => {
      const here = ours(source);
      if (i > 0) {
        const { compared, wrong } = differences(there, here, 25.4);
        expect(wrong, made[i]).toEqual([]);
        expect(compared).toBeGreaterThan(30);
        return;
      }
      // Release 12 holds hatches as blocks of their lines and endless lines as long ones: not what is asked.
      for (const [handle, { entity }] of here) if (entity.kind === 'hatch') here.delete(handle);
      const endless = there.filter((j) => j.kind === 'LINE' && !here.has(j.handle));
      expect(endless.length).toBe(source.entities.filter((e) => e.kind === 'ray').length);
      const { compared, wrong } = differences(
        there.filter((j) => !endless.includes(j) && !j.block?.startsWith('*X')),
        here,
        25.4,
      );
      expect(wrong, made[i]).toEqual([]);
      expect(compared).toBeGreaterThan(15);
    });
  });

  it('in DXF that we make of our own DWG', () => {
    const source = read(readFileSync(kept('every-kind.dxf')));
    const made = ['2000', '2010', '2018'].map((version) => {
      const dwg = deliver(source, targetFor('dwg', { unit: 'mm', version }), 'a', fonts()).bytes;
      const path = join(folder, `dwg-${version}.dxf`);
      writeFileSync(path, deliver(read(dwg, 'a.dwg'), targetFor('dxf', { unit: 'm', version }), 'a', fonts()).bytes);
      return path;
    });
    judged(...made).forEach((there, i) => {
      const { compared, wrong } = differences(there, ours(source), 1000);
      expect(wrong, made[i]).toEqual([]);
      expect(compared).toBeGreaterThan(30);
    });
  });

  it('in DXF of art: lines where its lines are, fills within its outlines', () => {
    const arts = Array.from({ length: 12 }, (_, i) => {
      const source = read(bytesOf(generatedArt(400 + i, { clips: false })), 'a.svg');
      const { drawing } = prepare(source, NO_DECISIONS, []);
      const path = join(folder, `art-${i}.dxf`);
      writeFileSync(path, deliver(drawing, targetFor('dxf', { unit: 'mm' }), 'a', fonts()).bytes);
      const outlines: Chords[] = [];
      walk(drawing, ({ entity, toWorld }) => {
        if (entity.kind === 'text') return;
        flattenEntity(entity, toWorld, 1e-3, {
          moveTo: (x, y) => void outlines.push([[x, y]]),
          lineTo: (x, y) => void outlines[outlines.length - 1]!.push([x, y]),
        });
      });
      return { path, outlines };
    });
    judged(...arts.map((a) => a.path)).forEach((there, i) => {
      const { path, outlines } = arts[i]!;
      const theirs = there.flatMap((j) => j.curves);
      expect(theirs.length).toBeGreaterThan(0);
      // What is filled is closed where the art left it open.
      const closed = outlines.map((o): Chords => [...o, o[0]!]);
      expect(farthest(theirs, closed), path).toBeLessThan(0.05);
      expect(
        farthest(
          outlines.filter((o) => o.length > 1),
          theirs,
        ),
        path,
      ).toBeLessThan(0.05);
    });
  });
});

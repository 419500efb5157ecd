import { Box2 } from './box.js';
import type { Chords, Effort } from './crossings.js';
import {
  FINENESS,
  SAME,
  chordsOf,
  crossings,
  cutPiece,
  nearest,
  newEffort,
  simplePieces,
  windingOf,
} from './crossings.js';
import type { FillRule, RegionShape } from './outlines.js';
import { ASIDE, Cover, SAMPLES, checkSame, borderOf, joined } from './outlines.js';
import type { PathData } from './path.js';
import { PathBuilder } from './path.js';
import type { Piece } from './path-pieces.js';
import { drawPiece, endOf, piecesOf, pointAt, reversed, startOf, tangentAt } from './path-pieces.js';

/**
 * An area that drawings are cut to: the union of filled shapes. Curves stay what they are: what is cut is a part of the
 * same line, arc or Bézier, and the area's own boundary closes what a fill lost.
 */
export class Region {
  readonly box: Box2;
  private readonly cover: Cover;
  private readonly border: readonly Piece[];
  private readonly borderChords: Chords | null;
  private readonly rectangle: boolean;

  constructor(
    shapes: readonly RegionShape[],
    private readonly effort: Effort = newEffort(),
  ) {
    const border = borderOf([shapes], ([within]) => within!, effort);
    this.border = border.pieces;
    this.cover = border.covers[0]!;
    this.box = border.box;
    this.rectangle = shapes.length === 1 && isRectangle(piecesOf(shapes[0]!.path, true).flatMap((p) => p.pieces));
    this.borderChords = chordsOf(this.border, border.tolerance);
  }

  private get size(): number {
    return this.box.diagonal || 1;
  }

  contains(x: number, y: number): boolean {
    return this.cover.contains(x, y);
  }

  /** Whether a box lies wholly inside (`in`), wholly outside (`out`), or may be crossed by the boundary. */
  side(box: Box2): 'in' | 'out' | 'across' {
    const b = this.box;
    if (b.empty || box.minX > b.maxX || box.maxX < b.minX || box.minY > b.maxY || box.maxY < b.minY) return 'out';
    const e = SAME * this.size;
    if (this.rectangle)
      return box.minX >= b.minX - e && box.maxX <= b.maxX + e && box.minY >= b.minY - e && box.maxY <= b.maxY + e
        ? 'in'
        : 'across';
    const { borderChords: c } = this;
    if (!c || c.index.search(box.minX, box.minY, box.maxX, box.maxY).length > 0) return 'across';
    return this.contains(box.minX, box.minY) ? 'in' : 'out';
  }

  /** The parts of a path's lines that lie inside, as open pieces joined where they follow each other. */
  cutLines(path: PathData): PathData {
    const out = new PathBuilder();
    for (const { pieces, closed } of simplePieces(path, false)) {
      const chords = chordsOf(pieces, this.size * FINENESS);
      if (!chords || !this.borderChords) continue;
      const [cuts] = crossings(pieces, chords, this.border, this.borderChords, this.size, this.effort);
      const runs: Piece[][] = [];
      let open: Piece[] | null = null;
      let everything = true;
      pieces.forEach((piece, i) => {
        for (const part of cutPiece(piece, cuts[i]!, SAME * this.size)) {
          const inside = this.holds(part) || this.onBorder(part);
          if (!inside) {
            open = null;
            everything = false;
          } else if (open) open.push(part);
          else runs.push((open = [part]));
        }
      });
      if (closed && !everything && runs.length > 1 && open === runs[runs.length - 1]) {
        const [sx, sy] = startOf(runs[0]![0]!);
        const [ex, ey] = endOf(runs[runs.length - 1]!.at(-1)!);
        if (sx === ex && sy === ey) runs[0]!.unshift(...runs.pop()!);
      }
      for (const run of runs) {
        out.moveTo(...startOf(run[0]!));
        for (const p of run) drawPiece(out, p);
        if (closed && everything) out.close();
      }
    }
    return out.build();
  }

  /** Whether a piece that the boundary does not cross lies inside: what most of its sample points say. */
  private holds(piece: Piece): boolean {
    return SAMPLES.filter((t) => this.contains(...pointAt(piece, t))).length * 2 > SAMPLES.length;
  }

  /**
   * Whether it runs along the boundary, as near as pieces of the boundary are asked what lies beside them. One point on it is
   * not enough: curves may touch.
   */
  private onBorder(piece: Piece): boolean {
    const { borderChords } = this;
    return (
      borderChords !== null && SAMPLES.every((t) => nearest(borderChords, ...pointAt(piece, t), ASIDE * this.size))
    );
  }

  /**
   * The part of a filled path that lies inside, as closed outlines to be filled by the same rule. What the area's own
   * boundary encloses is counted as often as the path winds round it.
   */
  cutFill(path: PathData, rule: FillRule): PathData {
    const pieces = simplePieces(path, true).flatMap((p) => p.pieces);
    const chords = chordsOf(pieces, this.size * FINENESS);
    if (!chords || !this.borderChords) return new PathBuilder().build();
    const [onPath, onBorder] = crossings(pieces, chords, this.border, this.borderChords, this.size, this.effort);
    const same = SAME * this.size;
    const kept: Piece[] = [];
    pieces.forEach((piece, i) => {
      for (const part of cutPiece(piece, onPath[i]!, same)) {
        // What runs along the boundary is taken from the boundary, once.
        if (!this.onBorder(part) && this.holds(part)) kept.push(part);
      }
    });
    const step = ASIDE * this.size;
    this.border.forEach((piece, i) => {
      for (const part of cutPiece(piece, onBorder[i]!, same)) {
        const windings = SAMPLES.map((t) => {
          const [x, y] = pointAt(part, t);
          const d = tangentAt(part, t);
          const l = Math.hypot(d[0], d[1]) || 1;
          return windingOf(chords, x - (d[1] / l) * step, y + (d[0] / l) * step, this.effort);
        });
        // The middle one of them: a single point may lie where curves touch.
        const w = windings.sort((a, b) => a - b)[1]!;
        const times = rule === 'evenodd' ? Math.abs(w % 2) : w;
        for (let k = 0; k < Math.min(16, Math.abs(times)); k++) kept.push(times > 0 ? part : reversed(part));
      }
    });
    const made = joined(kept, rule === 'evenodd', same, 4 * step, this.effort);
    this.checkCut(made, chords, rule);
    return made;
  }

  /**
   * Asks at some places whether what was cut covers what both cover. Throws {@link TooIntricate} where it does not: outlines that
   * nearly run along each other can leave ends that nothing meets.
   */
  private checkCut(made: PathData, path: Chords, rule: FillRule): void {
    const [a, b] = [this.box, path.box];
    const [minX, minY] = [Math.max(a.minX, b.minX), Math.max(a.minY, b.minY)];
    const both = { minX, minY, width: Math.min(a.maxX, b.maxX) - minX, height: Math.min(a.maxY, b.maxY) - minY };
    const pieces = simplePieces(made, true).flatMap((p) => p.pieces);
    const result = new Cover([{ rule, pieces }], this.size * FINENESS, this.effort);
    const covers = (w: number): boolean => (rule === 'evenodd' ? w % 2 !== 0 : w !== 0);
    checkSame(
      both,
      (x, y) => covers(windingOf(path, x, y, this.effort)) && this.contains(x, y),
      (x, y) => result.contains(x, y),
    );
  }
}

function isRectangle(pieces: readonly Piece[]): boolean {
  return (
    pieces.length === 4 &&
    pieces.every((p) => p.kind === 'bezier' && p.p.length === 4 && (p.p[0] === p.p[2] || p.p[1] === p.p[3]))
  );
}

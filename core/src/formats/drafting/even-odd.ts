import type { Entity, HatchLoop } from '../../drawing/entity.js';
import type { Ledger } from '../../drawing/ledger.js';
import { meanOpacity } from '../../drawing/appearance.js';
import { outlinePath } from '../../drawing/outline-path.js';
import type { Place } from './places.js';
import { tellEach } from './places.js';
import { Box2 } from '../../geometry/box.js';
import type { PathData } from '../../geometry/path.js';
import { fillLoops, joinedPaths, nodeCount, splitSubpaths } from '../../geometry/path.js';
import { piecesOf, pointAt } from '../../geometry/path-pieces.js';
import { lengthOfPath, momentsOf } from '../../geometry/planar/moments.js';
import { simplified } from '../../geometry/planar/shapes.js';
import type { UnitName } from '../../drawing/units.js';
import type { Effort } from '../../geometry/crossings.js';
import { overlaid } from './overlaid-fills.js';
import { TooIntricate, newEffort } from '../../geometry/crossings.js';
import type { FillRule } from '../../geometry/outlines.js';
import { UNSEEN } from '../../geometry/tolerance.js';

/** What a hatch is to be bounded by so that it shows an entity's fill. */
export interface FillBoundary {
  /** The loops of one hatch, or of several that show the fill together. */
  readonly hatches: HatchLoop[][];
  /** How much longer it is than the outlines that were filled, where it had to be made anew. */
  readonly grown: number | null;
  /** How far what was made anew may lie from the outlines that were filled. */
  readonly off: number;
  /** The outlines cross too often to be told apart: they are filled as they are. */
  readonly intricate: boolean;
}

/** The boundary of an entity's fill; `null` where nothing encloses anything. `severally`: it may be that of several hatches. */
export function fillBoundary(e: Entity, severally = false): FillBoundary | null {
  const outline = outlinePath(e);
  const given = outline ? fillLoops(outline) : [];
  if (given.length === 0) return null;
  const effort = newEffort();
  const made = evenOddLoops(given, e.look.fillRule, effort);
  const hatchesOf = (groups: readonly (readonly PathData[])[]): HatchLoop[][] =>
    groups.map((paths) => paths.map((path) => ({ path, flags: 0 })));
  if (made !== null && made !== 'intricate') {
    const grown = lengthOfPath(joinedPaths(made)) - lengthOfPath(joinedPaths(given));
    return { hatches: hatchesOf([made]), grown, off: effort.bridged, intricate: false };
  }
  const { look } = e;
  // What is seen through would be seen through twice where hatches lie on one another.
  const covers = look.opacity * look.fillOpacity * meanOpacity(look.fill) === 1 && !look.opacityFrom;
  const groups = made === 'intricate' && severally && covers ? overlaid(given) : null;
  const intricate = made === 'intricate' && groups === null;
  return { hatches: hatchesOf(groups ?? [given]), grown: null, off: 0, intricate };
}

/** Says what became of a fill by the nonzero rule, for each place where it is seen. */
export function tellFillRule(
  ledger: Ledger,
  places: readonly Place[],
  id: number,
  { grown, off, intricate }: FillBoundary,
  unit: UnitName,
): void {
  if (intricate) ledger.add({ carryOver: 'colour', action: 'dropped', reason: 'fill-rule-not-kept', id });
  if (grown === null) return;
  tellEach(ledger, places, ({ fillKey, scale }) => ({
    carryOver: 'colour',
    action: 'changed',
    reason: 'fill-made-even-odd',
    onPurpose: true,
    id,
    filled: { [fillKey]: grown * scale },
  }));
  if (off === 0) return;
  tellEach(ledger, places, ({ scale }) => ({
    carryOver: 'curves',
    action: 'approximated',
    reason: 'fill-boundaries-joined',
    onPurpose: true,
    id,
    deviation: { value: Number((off * scale).toPrecision(2)), unit },
  }));
}

/** A loop of more nodes than these is not looked at for crossing itself. */
const MOST_NODES = 400;

/**
 * A hatch is filled by the even-odd rule. The loops that show by it what the given ones show by theirs; `null` when that is
 * the same already, and `'intricate'` where they cross too often to be told apart.
 */
export function evenOddLoops(
  loops: readonly PathData[],
  rule: FillRule,
  effort: Effort = newEffort(),
): PathData[] | 'intricate' | null {
  if (rule === 'evenodd' || !(overlapAlike(loops) || loops.some(crossesItself))) return null;
  const path = joinedPaths(loops);
  try {
    const shown = simplified({ path, rule }, effort);
    const area = momentsOf(shown).area;
    const byHatch = momentsOf(simplified({ path, rule: 'evenodd' })).area;
    return Math.abs(area - byHatch) <= UNSEEN * Math.abs(area) ? null : splitSubpaths(shown);
  } catch (e) {
    if (e instanceof TooIntricate) return 'intricate';
    throw e;
  }
}

/** Whether two loops that run round the same way may lie over each other: only then the rules can differ. */
function overlapAlike(loops: readonly PathData[]): boolean {
  if (loops.length < 2) return false;
  const known = loops.map((path) => {
    const box = new Box2();
    for (const { pieces } of piecesOf(path, true))
      for (const p of pieces) for (const t of [0, 0.25, 0.5, 0.75]) box.add(...pointAt(p, t));
    return { box, sign: Math.sign(momentsOf(path).area) };
  });
  // From left to right: only what has not ended yet can lie over the next.
  known.sort((a, b) => a.box.minX - b.box.minX);
  let open: typeof known = [];
  for (const one of known) {
    open = open.filter((o) => o.box.maxX > one.box.minX);
    if (open.some((o) => o.sign === one.sign && o.box.minY < one.box.maxY && o.box.maxY > one.box.minY)) return true;
    open.push(one);
  }
  return false;
}

/** Whether the chords of a loop cross each other. */
function crossesItself(path: PathData): boolean {
  if (nodeCount(path) > MOST_NODES) return false;
  const points = piecesOf(path, true).flatMap(({ pieces }) =>
    pieces.flatMap((p) =>
      p.kind === 'bezier' && p.p.length === 4 ? [pointAt(p, 0)] : [0, 0.25, 0.5, 0.75].map((t) => pointAt(p, t)),
    ),
  );
  const n = points.length;
  const side = (a: readonly [number, number], b: readonly [number, number], c: readonly [number, number]): number =>
    Math.sign((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]));
  for (let i = 0; i < n; i++) {
    const [a, b] = [points[i]!, points[(i + 1) % n]!];
    for (let k = i + 2; k < n; k++) {
      if (i === 0 && k === n - 1) continue;
      const [c, d] = [points[k]!, points[(k + 1) % n]!];
      if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0) return true;
    }
  }
  return false;
}

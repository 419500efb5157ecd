import type { Affine } from '../geometry/affine.js';
import { IDENTITY } from '../geometry/affine.js';
import type { PathData } from '../geometry/path.js';
import type { Drawing } from './drawing.js';
import type { Entity, Image } from './entity.js';
import type { Follower } from './transform.js';
import { transformDrawing } from './transform.js';

/** Why an operation changed entities. `LINEAGE_WORDS` says each in words. */
export type LineageCode = keyof typeof LINEAGE_WORDS;

/** To follow the number of entities: “12 left out: on layers that are hidden”. */
export const LINEAGE_WORDS = {
  'cut-to-clip': 'cut to their clip paths',
  'hidden-by-clip': 'wholly hidden by a clip path',
  'clip-taken-off': 'without their clip path',
  'pattern-gave-way': 'nothing but a fill pattern, drawn as its pieces',
  'pattern-pieces': 'pieces of fill patterns, for their plain colour',
  repainted: 'painted otherwise',
  'picture-held': 'with their picture',
  'outside-window': 'outside the frame',
  'hidden-content': 'hidden: layers off or frozen, invisible objects',
  'from-inside-out': 'with their inner outlines before those around them',
  'part-not-chosen': 'of parts that were not chosen',
  'part-of-block': 'placed blocks, as the parts in them that were chosen',
  'drawing-gathered': 'of drawings that were gathered in',
  'object-not-chosen': 'that were not chosen',
  'sheet-not-chosen': 'on sheets that were not chosen',
  'layer-not-chosen': 'on layers that were not chosen',
  'laid-flat': 'laid onto the XY plane',
  'nothing-from-above': 'upright lines of which nothing is seen from above',
  'seen-from-above': 'tilted placed blocks, as they look from above',
  grouped: 'placed blocks, as groups of their contents',
  'broken-up': 'placed blocks, as their contents',
  'shown-as-lines': 'dimensions and leaders, as lines and text',
  'dimension-left-out': 'dimensions and leaders',
  'hatch-as-lines': 'hatches, as the lines of their pattern',
  'hatch-as-fill': 'hatches, as plain fills',
  'hatch-as-outline': 'hatches, as their outlines',
  'hatch-left-out': 'hatches',
  'ends-joined': 'whose ends were brought together',
  'gap-bridged': 'lines that bridge gaps',
  double: 'curves that lay on others',
  'without-length': 'zero-length curves',
  lettered: 'texts, as shapes of their letters',
  'lettering-set': 'letters that were set',
  resorted: 'on another layer',
  chained: 'curves that met end to end, as outlines',
  'met-in-corner': 'whose ends were brought to a corner',
  'points-thinned': 'with fewer points',
  'anchor-rehung': 'hung on the curve where a point was taken away',
  rounded: 'with rounded coordinates',
  'arcs-recovered': 'as the arcs that they stand for',
  'as-chords': 'as straight chords',
  'as-arcs': 'as circular arcs',
  'as-beziers': 'as cubic Béziers',
  rewidened: 'drawn in another width',
  regrouped: 'in another group',
  cropped: 'cut at the edge',
  'cropped-away': 'outside the edge',
  stray: 'far outside all the rest',
  'font-replaced': 'in another font',
  'annotation-scaled': 'with letters of another size',
  warped: 'stretched between two edges',
  'stroke-shaped': 'as the shapes that their pen covers',
  'stroke-evened': 'as lines of one width',
  'edges-shared': 'with the points of their neighbours',
  'reference-taken-in': 'contents of reference drawings',
  bridged: 'with holding bridges',
  'swatch-put': 'swatches of the colours of the drawing',
  'bridge-marked': 'points that mark holding bridges',
  'label-moved': 'brought into their outline',
  'regions-built': 'outlines and curves, as regions that share their edges',
  'overlap-merged': 'curves that ran over others, as one',
  'shown-on-page': 'as pages show them',
  'on-no-page': 'that lie on no page',
  'page-marked': 'marks and names of pages',
  'picture-traced': 'pictures, as the areas in them',
  'letter-bars': 'lines under, over and through letters, as shapes',
  traced: 'outlines of what pictures show',
  'as-outline': 'as closed outlines',
  'no-outline': 'that are no closed outlines',
  'picture-put-under': 'the picture under the drawing',
  'block-copied': 'blocks of their own for each size',
} as const;

/**
 * What an operation says that its change did to what is seen, for the proof to hold it against the drawings before and
 * after. Lengths in the drawing's unit.
 *
 * - `kept`: the curves after lie on those before and the other way, no further than `within`; so do texts, but for the numbers
 *   of dimensions that measure anew (`remeasured`). Curves before may be missing between dashes, `gaps` long at the most.
 * - `part`: the curves after lie on those before, which were more, no further than `within`.
 * - `outline`: the same, of a hatch whose boundary alone counts.
 * - `lettered`: shapes that stand where a text stood.
 * - `warped`: the curves after lie where a map that is no similarity takes those before, no further than `within`.
 * - `placed`: one that is seen where a similarity takes the one before; `again` where that one is seen elsewhere too.
 * - `resized`: letters of another size, all else of them as it was.
 * - `gone`, `made`: there is nothing after, or was nothing before; `shows`: a picture that what was made shows.
 */
export type Claim =
  | { kind: 'kept'; within: number; remeasured?: true; gaps?: number }
  | { kind: 'warped'; within: number; map(x: number, y: number): readonly [number, number] }
  | { kind: 'placed'; map: Affine; again: boolean }
  | { kind: 'part'; within?: number }
  | { kind: 'outline' }
  | { kind: 'lettered' }
  | { kind: 'resized' }
  | { kind: 'gone' }
  | { kind: 'made'; shows?: ShownPicture };

/** A picture that areas were made of, and by which rule, for others to hold them against it. */
export interface ShownPicture {
  readonly picture: Image;
  /** The part of it that they show, in its own pixels from its upper left corner. */
  readonly part: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
  /**
   * What tells one area from another: how dark it is (`threshold`: below which it is ink, `null` where nobody asked for one), or which
   * colour it is of (`ground`: the colour along the border is none; `asked`: no more colours than somebody asked for).
   */
  readonly by:
    | { readonly kind: 'brightness'; readonly threshold: number | null; readonly light: boolean }
    | { readonly kind: 'colours'; readonly ground: boolean; readonly asked: boolean };
  /** Areas of fewer pixels are left out. */
  readonly speckles: number;
  /** What was asked for by which pixels of the picture are no longer those of what was made: why they cannot be compared. */
  readonly moved?: 'straightened' | 'merged' | 'edges';
}

/** Entities of the drawing before, those of the drawing after that they became, and why. They are the very objects. */
export interface Descent {
  readonly code: LineageCode;
  readonly from: readonly Entity[];
  readonly to: readonly Entity[];
  readonly claim: Claim;
  /**
   * Entities that stay as they are and on which lies what of the first is in none of the others. Regions share edges with those
   * that stay: what of them is on none of the first may lie on these too.
   */
  readonly on?: readonly Entity[];
  /** Edges that parts were cut at: fills are closed along them. */
  readonly edges?: readonly PathData[];
}

/** One operation on a drawing. What differs between before and after and is neither in a descent nor by the map is unexplained. */
export interface Stage {
  /** What it is called on the page. */
  readonly title: string;
  readonly before: Drawing;
  readonly after: Drawing;
  /** The similarity by which everything was moved. */
  readonly map: Affine;
  readonly descents: readonly Descent[];
}

/** What was made of pictures that it shows, in all of some stages. */
export const shownPictures = (stages: readonly Stage[]): { to: readonly Entity[]; shows: ShownPicture }[] =>
  stages.flatMap(({ descents }) =>
    descents.flatMap(({ to, claim }) => (claim.kind === 'made' && claim.shows ? [{ to, shows: claim.shows }] : [])),
  );

/** Where an operation says what it does to which entities, while it does it. */
export class Lineage {
  readonly descents: Descent[] = [];
  map: Affine = IDENTITY;

  /** Entities became others that are seen in the same place, no further away than `within` (drawing unit). */
  replace(from: Entity, to: readonly Entity[], code: LineageCode, within = 0): void {
    this.descents.push({ code, from: [from], to, claim: { kind: 'kept', within } });
  }
  /** A dashed line became the shapes of its dashes: of it itself nothing is left in the gaps. */
  dashed(from: Entity, to: readonly Entity[], code: LineageCode, within: number, gaps: number): void {
    this.descents.push({ code, from: [from], to, claim: { kind: 'kept', within, gaps } });
  }
  /** Several became others that are together seen where they were, no further away than `within`; `on`: or on these, which stay. */
  regroup(
    from: readonly Entity[],
    to: readonly Entity[],
    code: LineageCode,
    within = 0,
    on: readonly Entity[] = [],
  ): void {
    this.descents.push({ code, from, to, claim: { kind: 'kept', within }, ...(on.length > 0 && { on }) });
  }
  /** A dimension hangs by other points, and its number follows. */
  remeasure(from: Entity, to: Entity, code: LineageCode, within: number): void {
    this.descents.push({ code, from: [from], to: [to], claim: { kind: 'kept', within, remeasured: true } });
  }
  /** An entity is stretched by a map, and described anew no further away than `within`. */
  warp(
    from: Entity,
    to: Entity,
    code: LineageCode,
    within: number,
    map: (x: number, y: number) => readonly [number, number],
  ): void {
    this.descents.push({ code, from: [from], to: [to], claim: { kind: 'warped', within, map } });
  }
  /** Entities became others of which only so much is claimed. */
  became(
    from: Entity,
    to: readonly Entity[],
    code: LineageCode,
    kind: 'part' | 'outline' | 'lettered' | 'resized',
  ): void {
    this.descents.push({ code, from: [from], to, claim: { kind } });
  }
  /** Several became others that are seen where parts of them were, no further away than `within`. */
  reduce(
    from: readonly Entity[],
    to: readonly Entity[],
    code: LineageCode,
    within: number,
    on: readonly Entity[] = [],
  ): void {
    this.descents.push({ code, from, to, claim: { kind: 'part', within }, ...(on.length > 0 && { on }) });
  }
  /** Of an entity only parts are left, cut at an edge along which fills were closed. */
  cut(from: Entity, to: readonly Entity[], code: LineageCode, edge: PathData): void {
    this.descents.push({ code, from: [from], to, claim: { kind: 'part' }, edges: [edge] });
  }
  /** An entity is shown in a place that a similarity takes it to; `again` where it is shown elsewhere already. */
  placed(from: Entity, to: Entity, map: Affine, again: boolean): void {
    this.descents.push({ code: 'shown-on-page', from: [from], to: [to], claim: { kind: 'placed', map, again } });
  }
  remove(from: Entity, code: LineageCode): void {
    this.descents.push({ code, from: [from], to: [], claim: { kind: 'gone' } });
  }
  add(to: readonly Entity[], code: LineageCode, shows?: ShownPicture): void {
    this.descents.push({ code, from: [], to, claim: { kind: 'made', ...(shows && { shows }) } });
  }
  /** Everything moves by a similarity. */
  move(map: Affine): void {
    this.map = map;
  }
}

/** A drawing on its way through operations, each of which is kept as a stage where it changed something. */
export class Stages {
  readonly list: Stage[] = [];

  constructor(public drawing: Drawing) {}

  run(title: string, change: (from: Drawing, lineage: Lineage) => Drawing): void {
    const lineage = new Lineage();
    const before = this.drawing;
    this.drawing = change(before, lineage);
    if (this.drawing !== before)
      this.list.push({ title, before, after: this.drawing, map: lineage.map, descents: lineage.descents });
  }

  /** Moves everything by a similarity; `onLost` as for `transformDrawing`. */
  move(title: string, map: Affine, onLost: (entity: Entity, became: Follower) => void): void {
    this.run(title, (from, lineage) => {
      lineage.move(map);
      return transformDrawing(from, map, onLost);
    });
  }

  /** Goes on from what others made of the drawing. */
  follow(made: { drawing: Drawing; stages: readonly Stage[] }): void {
    this.drawing = made.drawing;
    this.list.push(...made.stages);
  }
}

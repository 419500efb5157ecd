import type { Reason } from '../../drawing/reasons.js';
import { because } from '../../drawing/reasons.js';
import type { Appearance, Paint } from '../../drawing/appearance.js';
import { meanOpacity } from '../../drawing/appearance.js';
import type { Drawing } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import type { Ledger } from '../../drawing/ledger.js';
import { exactIndex, hex, nearestIndex } from '../../drawing/palette.js';
import { paintRgb } from '../../drawing/resolve.js';
import type { UnitName } from '../../drawing/units.js';
import type { PictureDefinitions } from './picture-definitions.js';
import type { GroupGatherer } from './write-groups.js';
import type { FontBook } from '../../text/fonts.js';
import type { Handles } from './handles.js';
import { handleText } from './handles.js';
import type { NameTable } from './names.js';
import type { Place } from './places.js';
import type { Pointers } from './pointers.js';
import type { RawTag } from './raw-tags.js';
import { parseRaw } from './raw-tags.js';
import type { TagSink } from './tag-sink.js';
import type { Abilities } from './versions.js';
import { knowsTag } from './versions.js';
import { nearestWeight } from './weights.js';

/** A weight that is this far from the width of a line, in mm, is another line. */
const FAR = 0.25;

/** What entity writers share. */
export interface EntityContext extends Abilities {
  out: TagSink;
  ledger: Ledger;
  handles: Handles;
  pointers: Pointers;
  layers: NameTable;
  blocks: NameTable;
  linetypes: NameTable;
  styles: NameTable;
  dimensionStyles: NameTable;
  knownLinetypes: ReadonlySet<string>;
  /** What the heads of the source's tables say beyond their counts. */
  tableHeads: Drawing['carried']['heads'];
  fonts: FontBook;
  /** The drawing came from a drafting format: handles, extended data and what the model has no word for go back. */
  sameFormat: boolean;
  /** And its version is the one that is written: whatever the source holds, the target knows. */
  sameVersion: boolean;
  /** What the form that is written is called. */
  form: string;
  /** Whether the form that is written has a place for a record in its own form. */
  holds(type: string, raw: string): boolean;
  /** Millimetres per drawing unit, for widths stated in drawing units. */
  mmPerUnit: number;
  /** Entities go to paper space. */
  paper: boolean;
  /** The groups of a tree, gathered while its entities are written. */
  groups: GroupGatherer;
  /** Definitions of pictures that the source has none for. */
  pictures: PictureDefinitions;
  /** The record of model space. */
  modelSpace(): string;
  /** What becomes of paths that drafting has no word for, and how far arcs may lie from them. */
  curves: 'spline' | 'arcs' | 'pieces';
  tolerance: number;
  unit: UnitName;
  layerHandle(name: string): string | undefined;
  /** Where a path or a filled entity comes to lie. */
  placesOf(e: Entity): readonly Place[];
}

const NAMELESS = { name: '', said: '' };

/** Writes the tags of one entity after the other: head, subclasses, and at its end what only this format can say. */
export class EntityTags {
  private rest: { mark: string; tags: RawTag[] }[] | null = null;
  private mark = '';
  /** The handle of the entity that was begun last. */
  lastHandle = '';

  /** `kinds` writes an entity by its kind: what shows another goes the same way. */
  constructor(
    readonly x: EntityContext,
    private readonly kinds: (w: EntityTags, e: Entity, owner: string) => void,
  ) {}

  write(e: Entity, owner: string): void {
    this.kinds(this, e, owner);
  }

  /**
   * The tags that every entity begins with, up to its subclass mark. `area`: what is written is a fill. Returns the
   * handle. `reuse`: the entity is the one that the source's handle belongs to.
   */
  begin(
    type: string,
    e: Entity,
    owner: string,
    subclass: string,
    options: { area?: boolean; reuse?: boolean } = {},
  ): string {
    const { x } = this;
    const { out } = x;
    const { area = false, reuse = true } = options;
    const handle = x.handles.keep(reuse ? e.key : undefined, x.sameFormat);
    if (!x.sameFormat && !x.paper && owner === x.modelSpace()) x.groups.note(e, handle);
    out.string(0, type);
    out.string(5, handle);
    this.lastHandle = handle;
    this.rest = reuse ? this.restOf(e) : null;
    this.groups();
    if (!x.r12) {
      out.string(330, owner);
      out.string(100, 'AcDbEntity');
    }
    this.mark = 'AcDbEntity';
    if (x.paper) out.integer(67, 1);
    out.string(8, x.layers.nameFor(e.layer));
    this.appearance(e.look, area, e.id);
    this.subclass(subclass);
    return handle;
  }

  /** Looks that were handed over, by layer; `null` for one of which something must be said for each entity. */
  private readonly looks = new Map<Appearance, Map<string, number> | null>();
  private looksMade = 0;

  /**
   * Hands an entity over as it is, where the form can take it so and nothing has to be said of it. Answers whether it
   * did. `goesBy`: the name of its block or style, and what it says.
   */
  whole(type: string, e: Entity, owner: string, goesBy?: () => { name: string; said: string }): boolean {
    const { x } = this;
    const { whole } = x.out;
    if (!whole || (x.sameFormat && (e.rest !== undefined || e.extended !== undefined)) || !whole.takes(e)) return false;
    let byLayer = this.looks.get(e.look);
    if (byLayer === undefined) this.looks.set(e.look, (byLayer = this.plain(e.look) ? new Map() : null));
    if (!byLayer) return false;
    let look = byLayer.get(e.layer);
    if (look === undefined) {
      const { out } = x;
      x.out = whole.looks;
      x.out.string(0, 'LOOK');
      x.out.string(8, x.layers.nameFor(e.layer));
      this.appearance(e.look, false, e.id);
      x.out = out;
      byLayer.set(e.layer, (look = this.looksMade++));
    }
    const handle = x.handles.keepNumber(e.key, x.sameFormat);
    if (!x.sameFormat) {
      this.lastHandle = handleText(handle);
      if (!x.paper && owner === x.modelSpace()) x.groups.note(e, this.lastHandle);
    }
    const { name, said } = goesBy?.() ?? NAMELESS;
    whole.put(type, e, handle, look, x.paper, name, said);
    return true;
  }

  /** Whether a look goes over without anything changed. */
  private plain(look: Appearance): boolean {
    const { x } = this;
    const paint = strokeOrFill(look);
    if (paint.kind === 'gradient' || paint.kind === 'pattern') return false;
    if (paint.kind === 'rgb' && !x.trueColour) return false;
    if (look.opacity * look.fillOpacity * look.strokeOpacity * meanOpacity(paint) < 1 && !x.trueColour) return false;
    const { width } = look;
    if (width.kind !== 'paper' && width.kind !== 'drawing') return true;
    if (x.oneSheet || look.stroke.kind === 'none' || this.leavesEnds(look)) return false;
    const mm = width.kind === 'paper' ? width.mm : width.value * x.mmPerUnit;
    return Math.abs(nearestWeight(mm) / 100 - mm) <= 1e-9;
  }

  /** Ends the subclass at hand and begins another. */
  subclass(name: string): void {
    this.flush(this.mark);
    this.mark = name;
    if (!this.x.r12) this.x.out.string(100, name);
  }

  thickness(e: Entity): void {
    if (e.thickness) this.x.out.number(39, e.thickness);
  }
  normal(e: Entity): void {
    if (e.normal) this.x.out.point(210, e.normal);
  }

  /** Ends the entity: tags under marks of their own, then extended data. */
  end(e: Entity, own = true): void {
    const { x } = this;
    this.flush(this.mark);
    for (const { mark, tags } of this.rest ?? []) {
      if (mark !== '' && mark !== 'AcDbEntity' && tags.length > 0) x.out.string(100, mark);
      for (const [c, v] of tags) x.out.string(c, v);
    }
    this.rest = null;
    if (own && e.extended && x.sameFormat) x.out.raw(x.pointers.cleanText(e.extended));
  }

  private restOf(e: Entity): { mark: string; tags: RawTag[] }[] | null {
    const { x } = this;
    if (!e.rest || !x.sameFormat) return null;
    // Release 12 has no marks: its tags go back to it alone.
    if (x.r12 && !x.sameVersion) {
      x.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: 'properties-not-in-r12',
        onPurpose: true,
        id: e.id,
      });
      return null;
    }
    const out: { mark: string; tags: RawTag[] }[] = [];
    let at = { mark: '', tags: [] as RawTag[] };
    for (const tag of x.pointers.clean(parseRaw(e.rest))) {
      if (tag[0] === 100) {
        at = { mark: tag[1].trim(), tags: [] };
        out.push(at);
      } else {
        if (out.length === 0) out.push(at);
        if (at.mark !== 'AcDbEntity' || x.sameVersion || knowsTag(x.version, tag[0])) at.tags.push(tag);
      }
    }
    return out;
  }

  /** What stands before the first mark: groups of reactors and the extension dictionary. */
  private groups(): void {
    const first = this.rest?.[0];
    if (!first || first.mark !== '' || this.x.r12) return;
    this.rest!.shift();
    for (const [c, v] of first.tags) this.x.out.string(c, v);
  }

  private flush(mark: string): void {
    if (!this.rest) return;
    const i = this.rest.findIndex((r) => r.mark === mark);
    if (i < 0) return;
    const { tags } = this.rest.splice(i, 1)[0]!;
    for (const [c, v] of tags) this.x.out.string(c, v);
  }

  /** The colour, linetype, weight and opacity of a look, for a part that has its own. */
  lookOf(look: Appearance, id: number): void {
    this.appearance(look, false, id);
  }

  private appearance(look: Appearance, area: boolean, id: number): void {
    const { x } = this;
    const { out } = x;
    const paint = area ? fillOrStroke(look) : strokeOrFill(look);
    const { dash } = look;
    if (dash.kind === 'linetype') {
      const known = x.knownLinetypes.has(dash.name.toLowerCase());
      if (dash.name.toLowerCase() !== 'bylayer' && known) out.string(6, x.linetypes.nameFor(dash.name));
      if (dash.scale !== 1 && !x.r12) out.number(48, dash.scale);
      else if (dash.scale !== 1) this.lost('linetype-scale-needs-r13', id);
    } else if (dash.lengths.length > 0) out.string(6, x.linetypes.nameFor(dashName(dash.lengths)));
    // An outline that borrows the colour of its fill loses nothing that its hatch has not lost already.
    this.paint(paint, id, !area && look.stroke.kind === 'none');
    // The outline of what is only filled was drawn with no pen: it gets the thinnest there is.
    const penless = !area && look.stroke.kind === 'none';
    if (penless) {
      if (!x.oneSheet) out.integer(370, 0);
    } else if (!x.oneSheet) this.weight(look, area, id);
    else if (look.width.kind !== 'byLayer') this.lost('line-widths-need-2000', id);
    // What is painted is as clear as its own paint and the whole together.
    const own = area || look.stroke.kind === 'none' ? look.fillOpacity : look.strokeOpacity;
    // A gradient with clear stops is as clear as they are on average: never a slab that hides what it let through.
    const opacity = look.opacity * own * meanOpacity(paint);
    if (opacity < 1 || look.opacityFrom) {
      if (x.trueColour)
        out.integer(
          440,
          opacity === 1 && look.opacityFrom === 'block' ? 0x01000000 : 0x02000000 | Math.round(opacity * 255),
        );
      else if (opacity < 1) this.lost('transparency-needs-2004', id);
    }
    if (!look.visible && !x.r12) out.integer(60, 1);
  }

  /** The nearest index to a true colour, for versions that have none; goes to the ledger when it is another colour. */
  nearest(rgb: number, id?: number): number {
    const index = nearestIndex(rgb);
    const to = paintRgb({ kind: 'index', index })!;
    if (to !== rgb) {
      this.x.ledger.add({
        carryOver: 'colour',
        action: 'approximated',
        reason: 'true-colours-need-2004',
        recoloured: { [hex(rgb)]: hex(to) },
        ...(id !== undefined && { id }),
      });
    }
    return index;
  }

  private lost(reason: Reason, id: number): void {
    this.x.ledger.add({ carryOver: 'colour', action: 'dropped', reason, onPurpose: true, id });
  }

  /** How lines end and turn is said by art alone; a receiver draws them round. */
  private leavesEnds({ width, cap, join }: Appearance): boolean {
    return !this.x.sameFormat && width.kind === 'drawing' && (cap !== 'round' || join !== 'round');
  }

  private weight(look: Appearance, area: boolean, id: number): void {
    const { x } = this;
    const { width } = look;
    let weight = -1;
    if (area && width.kind === 'drawing') weight = -1;
    else if (width.kind === 'byBlock') weight = -2;
    else if (width.kind === 'standard') weight = -3;
    else if (width.kind !== 'byLayer') {
      const mm = width.kind === 'paper' ? width.mm : width.value * x.mmPerUnit;
      weight = nearestWeight(mm);
      const off = Math.abs(weight / 100 - mm);
      if (off > 1e-9) {
        // What is far from what was drawn is not the nearest of anything.
        const far = off > FAR;
        x.ledger.add({
          carryOver: 'colour',
          action: far ? 'dropped' : 'approximated',
          reason: far ? 'width-beyond-weights' : 'width-to-nearest-weight',
          deviation: { value: Number(off.toPrecision(3)), unit: 'mm' },
          onPurpose: !far,
          id,
        });
      }
      if (this.leavesEnds(look))
        x.ledger.add({
          carryOver: 'colour',
          action: 'approximated',
          onPurpose: true,
          id,
          reason: 'line-ends-left-open',
        });
    }
    if (weight !== -1) x.out.integer(370, weight);
  }

  private paint(paint: Paint, id: number, borrowed: boolean): void {
    const { x } = this;
    const { out } = x;
    if (paint.kind === 'byBlock') return out.integer(62, 0);
    if (paint.kind === 'index') return out.integer(62, paint.index);
    if (paint.kind === 'byLayer' || paint.kind === 'none') return;
    if (paint.kind !== 'rgb' && !borrowed) {
      x.ledger.add({
        carryOver: 'colour',
        action: 'dropped',
        reason: because('paint-to-plain-colour', { paint: paint.kind, form: x.form }),
        id,
      });
    }
    const exact = exactIndex(paint.rgb);
    const fallback = paint.kind === 'rgb' ? paint.index : undefined;
    if (exact !== null && fallback === undefined) return out.integer(62, exact);
    if (x.trueColour) {
      out.integer(62, fallback ?? nearestIndex(paint.rgb));
      return out.integer(420, paint.rgb);
    }
    out.integer(62, this.nearest(paint.rgb, id));
  }
}

const strokeOrFill = (look: Appearance): Paint => (look.stroke.kind === 'none' ? look.fill : look.stroke);
const fillOrStroke = (look: Appearance): Paint => (look.fill.kind === 'none' ? look.stroke : look.fill);

/** A name for dashes that the source gave by their lengths. */
export const dashName = (lengths: readonly number[]): string =>
  'DASH_' + lengths.map((l) => String(Number(l.toPrecision(6))).replace('.', 'p')).join('_');

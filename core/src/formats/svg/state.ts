import type { Reason } from '../../drawing/reasons.js';
import type { Affine } from '../../geometry/affine.js';
import { inverse } from '../../geometry/affine.js';
import type { Box2 } from '../../geometry/box.js';
import { movedBox } from '../../geometry/moved-box.js';
import type { PathData } from '../../geometry/path.js';
import { PathBuilder, transformPath } from '../../geometry/path.js';
import type { Paint } from '../../drawing/appearance.js';
import type { Clip } from '../../drawing/entity.js';
import type { CarryOver, LedgerAction } from '../../drawing/ledger.js';
import type { StyleSheet } from './css.js';
import { Style } from './style.js';
import type { XmlDocument, XmlElement } from './xml.js';

/** What an element inherits from where it stands. */
export interface State {
  /** From its user space to the drawing's coordinates. */
  ctm: Affine;
  style: Style;
  layer: string;
  node: number | undefined;
  opacity: number;
  hidden: boolean;
  viewport: { width: number; height: number };
  em: number;
  uses: readonly XmlElement[];
  clip?: Clip;
  /** What `context-fill` and `context-stroke` stand for. */
  context?: { fill: Paint; stroke: Paint };
  /** Drawn as a piece of a fill pattern. */
  tile?: boolean;
  classes?: string;
  /** The attributes of the `use` that draws an `svg`: they may give it another size. */
  sizedBy?: ReadonlyMap<string, string> | undefined;
}

/** Where readers of single features leave what they could not carry. */
export interface Reporter {
  note(text: string, where: string): void;
  lose(carryOver: CarryOver, action: LedgerAction, reason: Reason, id?: number): void;
}

/** The styles of elements that are drawn elsewhere than they stand, such as markers: inherited along their own parents. */
export class PlacedStyles {
  private readonly known = new WeakMap<XmlElement, Style>();

  constructor(
    readonly document: XmlDocument,
    private readonly sheet: StyleSheet,
  ) {}

  of(e: XmlElement): Style {
    let style = this.known.get(e);
    if (!style) {
      style = (e.parent ? this.of(e.parent) : Style.initial).child(e, this.sheet);
      this.known.set(e, style);
    }
    return style;
  }
}

/** The element that `url(#id)` names; `undefined` where it names none. */
export function referred(document: XmlDocument, value: string | undefined): XmlElement | undefined {
  const id = /^url\(\s*["']?#([^"')]+)["']?\s*\)/.exec(value ?? '')?.[1];
  return id === undefined ? undefined : document.byId.get(id);
}

/** The element that `href` names. */
export const linked = (document: XmlDocument, e: XmlElement): XmlElement | undefined =>
  document.byId.get((e.attributes.get('href') ?? e.foreign.get('href') ?? '').replace(/^#/, ''));

/** A rectangle of user space as a path in the drawing's coordinates. */
const rectanglePath = (ctm: Affine, x: number, y: number, w: number, h: number): PathData =>
  transformPath(
    new PathBuilder()
      .moveTo(x, y)
      .lineTo(x + w, y)
      .lineTo(x + w, y + h)
      .lineTo(x, y + h)
      .close()
      .build(),
    ctm,
  );

/** The state with its clip narrowed to a rectangle of its user space. */
export function clippedTo(state: State, x: number, y: number, w: number, h: number): State {
  const shapes = [{ path: rectanglePath(state.ctm, x, y, w, h), rule: 'nonzero' as const }];
  return { ...state, clip: { shapes, ...(state.clip && { within: state.clip }) } };
}

/** Whether what leaves a viewport is cut off there: the rule for nested `svg`, symbols, markers and patterns. */
export const cutsOverflow = (style: Style): boolean => !/visible|auto/.test(style.get('overflow') ?? 'hidden');

/** A box of the drawing's coordinates as one of user space: exact unless the map turns, otherwise around it. */
export function boxInUserSpace(box: Box2, ctm: Affine): Box2 | null {
  if (box.empty || ctm[0] * ctm[4] - ctm[1] * ctm[3] === 0) return null;
  return movedBox(box, inverse(ctm));
}

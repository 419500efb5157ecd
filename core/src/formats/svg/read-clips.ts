import { because } from '../../drawing/reasons.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, planar, translation } from '../../geometry/affine.js';
import type { Box2 } from '../../geometry/box.js';
import { PathBuilder } from '../../geometry/path.js';
import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import type { Clip } from '../../drawing/entity.js';
import { outlinePath } from '../../drawing/outline-path.js';
import { parseLength } from './lengths.js';
import { isShape, readShape } from './read-shapes.js';
import type { PlacedStyles, Reporter, State } from './state.js';
import { linked, referred } from './state.js';
import { parseTransform } from './transforms.js';
import type { XmlElement } from './xml.js';
import { elementsOf } from './xml.js';

const MAX_CLIP_SHAPES = 20_000;

/**
 * The clip that an element's `clip-path` asks for, within the one it stands in (CSS Masking 1 §3, "Clipping Paths").
 * `box` is the element's bounding box in its user space, asked for only where units depend on it. `null` where there is
 * nothing that could be applied, which is reported.
 */
export function readClip(
  value: string,
  e: XmlElement,
  state: State,
  styles: PlacedStyles,
  report: Reporter,
  box: () => Box2 | null,
): Clip | null {
  const target = referred(styles.document, value);
  if (target?.name !== 'clipPath') {
    // A reference that leads nowhere counts as none; shapes named in words are not followed.
    if (!value.startsWith('url('))
      report.lose('curves', 'dropped', because('clip-not-applied', { clip: value.replace(/\(.*$/s, '()') }));
    return null;
  }
  return clipOf(target, state, styles, report, box, `line ${e.line}`, 0);
}

function clipOf(
  target: XmlElement,
  state: State,
  styles: PlacedStyles,
  report: Reporter,
  box: () => Box2 | null,
  where: string,
  depth: number,
): Clip | null {
  if (depth > 8) {
    report.note('clip paths that refer to each other in a circle are left out', where);
    return null;
  }
  const transform = styles.of(target).get('transform') ?? target.attributes.get('transform');
  let base = compose(state.ctm, parseTransform(transform) ?? IDENTITY);
  if (target.attributes.get('clipPathUnits') === 'objectBoundingBox') {
    const b = box();
    if (!b || !(b.width > 0) || !(b.height > 0)) {
      report.note('a clip path measured by a box without size is left out', where);
      return null;
    }
    base = compose(base, planar(b.width, 0, 0, b.height, b.minX, b.minY));
  }
  const shapes: Clip['shapes'][number][] = [];
  let lettered = false;
  const add = (e: XmlElement, ctm: Affine, hops: number): void => {
    const style = styles.of(e);
    if (style.get('display') === 'none' || /hidden|collapse/.test(style.get('visibility') ?? '')) return;
    const m = compose(ctm, parseTransform(style.get('transform') ?? e.attributes.get('transform')) ?? IDENTITY);
    if (e.name === 'use') {
      const to = linked(styles.document, e);
      const of = (name: string, percentOf: number): number =>
        parseLength(e.attributes.get(name) ?? '0', { percentOf, em: state.em }) ?? 0;
      if (to && hops < 8)
        add(to, compose(m, translation(of('x', state.viewport.width), of('y', state.viewport.height))), hops + 1);
      return;
    }
    if (e.name === 'text') {
      lettered = true;
      return;
    }
    if (!isShape(e.name) || shapes.length >= MAX_CLIP_SHAPES) return;
    const made = readShape(e, {
      ctm: m,
      style,
      viewport: state.viewport,
      em: state.em,
      fault: (text) => report.note(text, `line ${e.line}`),
      base: { id: 0, key: '', layer: '', look: DRAFTING_DEFAULT },
    });
    const path = made && outlinePath(made);
    if (path) shapes.push({ path, rule: style.get('clip-rule') === 'evenodd' ? 'evenodd' : 'nonzero' });
  };
  for (const c of elementsOf(target)) add(c, base, 0);
  // What letters let through nobody knows here: then nothing is hidden, and that is said.
  if (lettered) {
    report.lose('curves', 'dropped', 'clip-text-not-applied');
    return null;
  }
  // A clip path without shapes hides everything.
  if (shapes.length === 0) shapes.push({ path: new PathBuilder().build(), rule: 'nonzero' });
  let within = state.clip;
  const own = styles.of(target).get('clip-path');
  const next = own && own !== 'none' ? referred(styles.document, own) : undefined;
  if (next?.name === 'clipPath') within = clipOf(next, state, styles, report, box, where, depth + 1) ?? within;
  return { shapes, ...(within && { within }) };
}

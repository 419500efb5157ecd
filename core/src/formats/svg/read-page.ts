import type { Drawing, Page, SpaceUnit } from '../../drawing/drawing.js';
import type { Draft } from '../../drawing/entity.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, planar } from '../../geometry/affine.js';
import { isDrawable } from '../../geometry/magnitude.js';
import { UnreadableFile } from '../format.js';
import { likeTheOther, parseLength, parsePageLength } from './lengths.js';
import type { ReadingNotes } from './reading-notes.js';
import { parseViewBox, viewBoxMap } from './transforms.js';
import type { XmlElement } from './xml.js';

/** What a page of other proportions than its viewBox shows: more beside it, or less of it, by `preserveAspectRatio`. */
function shownPart(box: Page, w: number, h: number, preserve: string): Page {
  const fit = viewBoxMap(box, w, h, preserve);
  return { x: -fit[9] / fit[0], y: -fit[10] / fit[4], width: w / fit[0], height: h / fit[4] };
}

/**
 * The page, the size of a user unit, and the map from the outermost user space to the drawing's coordinates. The first two are said
 * of `d`.
 */
export function readPage(
  root: XmlElement,
  d: Draft<Drawing>,
  notes: ReadingNotes,
): { map: Affine; viewport: { width: number; height: number } } {
  d.yDown = true;
  const box = parseViewBox(root.attributes.get('viewBox'));
  const statedWidth = parsePageLength(root.attributes.get('width'));
  const statedHeight = parsePageLength(root.attributes.get('height'));
  const w = statedWidth?.kind === 'px' ? likeTheOther(statedWidth, statedHeight) : statedWidth;
  const h = likeTheOther(statedHeight, w);
  for (const [what, size] of [
    ['width', w?.value],
    ['height', h?.value],
    ['width of the viewBox', box?.width],
    ['height of the viewBox', box?.height],
  ] as const) {
    if (size === undefined || (isDrawable(size ** 2) && isDrawable(1 / size ** 2))) continue;
    throw new UnreadableFile(
      `The ${what} of the page is ${size}, which no drawing can have`,
      `line ${root.line}`,
      'Export it with a page of a size that can be.',
    );
  }
  const width = box?.width ?? w?.value ?? 300;
  const height = box?.height ?? h?.value ?? 150;
  let map: Affine = IDENTITY;
  let unit: SpaceUnit | null = null;
  if (w ?? h) {
    const side = (w ?? h)!;
    const kind = side.kind;
    const name = side.kind === 'physical' ? side.unit : 'px';
    // Without a viewBox a user unit is a CSS pixel, whatever unit the size is given in.
    const fx = w && box ? w.value / box.width : null;
    const fy = h && h.kind === kind && box ? h.value / box.height : null;
    const preserve = root.attributes.get('preserveAspectRatio') ?? '';
    if (!box) {
      if (side.kind === 'physical') {
        unit = { unit: 'in', factor: 1 / 96 };
        const inPx = (l: typeof w): number | null =>
          l ? parseLength(String(l.value) + (l.kind === 'physical' ? l.unit : ''), { percentOf: 0, em: 16 }) : null;
        d.page = { x: 0, y: 0, width: inPx(w) ?? 300, height: inPx(h) ?? 150 };
      } else unit = { unit: 'px', factor: 1 };
    } else if (/^\s*none/.test(preserve) && fx && fy) {
      // Unequal stretch is part of the geometry; the unit is taken from the width.
      map = planar(1, 0, 0, fy / fx, 0, box.y - box.y * (fy / fx));
      unit = { unit: name, factor: fx };
      d.page = { x: box.x, y: box.y, width: box.width, height: box.height * (fy / fx) };
    } else {
      const slice = /slice/.test(preserve);
      const factor = fx && fy ? (slice ? Math.max(fx, fy) : Math.min(fx, fy)) : (fx ?? fy ?? 1);
      unit = { unit: name, factor };
      if (fx && fy && Math.abs(fx - fy) > 1e-4 * factor) {
        notes.note(
          'width and height do not have the proportions of the viewBox; the scale that fits is taken',
          `line ${root.line}`,
        );
        if (w && h) d.page = shownPart(box, w.value, h.value, preserve);
      }
    }
  } else {
    unit = { unit: 'px', factor: 1 };
    notes.note(
      'the file states no size of its own; one user unit counts as one pixel',
      `line ${root.line}`,
      'warning',
      'asked',
    );
  }
  d.unit = unit;
  d.page ??= { x: box?.x ?? 0, y: box?.y ?? 0, width, height };
  return { map, viewport: { width, height } };
}

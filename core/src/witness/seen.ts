import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import { isDrafting } from '../drawing/drawing.js';
import { prepare } from '../delivery/pipeline.js';
import type { AskedLooks } from '../formats/write-options.js';
import { NO_DECISIONS } from '../intake/decisions.js';
import { SHIPPED_FONTS } from '../text/shipped.js';
import { mmPerUnit } from '../drawing/units.js';
import { familyOf } from '../text/layout.js';
import type { FontBook } from '../text/fonts.js';
import { whyNotDrawn } from './sane-svg.js';
import type { Noticing } from './differing.js';
import { differing } from './differing.js';
import type { SeenFile } from '../checks/check.js';
import type { Frame } from './plain-picture.js';
import { plainPicture } from './plain-picture.js';
import type { Picture, Renderer } from './renderer.js';
import { PICTURE_SIZE } from './renderer.js';

/** What came of looking at a drawing in two ways; its places in the drawing's coordinates, or as parts of its page. */
export interface Seen extends SeenFile {
  /** The part of what is drawn that differs, 0 to 1. */
  share: number;
  /** Letters were not looked at: they are of fonts that are not here. */
  letterless: boolean;
}

/** A file longer than this is not drawn, in letters. */
const LARGEST = 12_000_000;
/** Fewer pixels than this in one place, and a smaller part of what is drawn, nobody sees. */
const PLACE = 12;
const PART = 0.002;
/** A unit worked out from the six decimals of a page may be off by this part. */
const UNIT_OFF = 1e-4;
/** How wide lines of written files are drawn at least, in pixels. */
const THINNEST = 1.5;

/** What the renderer is known to draw otherwise than the standard says (core/test/svg/cases.ts holds examples). */
const UNKNOWN_TO_RENDERER: readonly [RegExp, string][] = [
  [/var\(\s*--/, 'custom properties, which the renderer does not know'],
  [
    /<([\w-]+:)?(linear|radial)Gradient(?![^>]*userSpaceOnUse)/,
    'gradients in the box of their shape, for which the renderer takes the control points of curves',
  ],
  [/transform-(origin|box)/, 'origins of transforms, which the renderer does not know'],
  [/@media|@supports|@layer/, 'conditions in its stylesheets, which the renderer does not know'],
  [/!\s*important/, 'importance in its stylesheets, which the renderer gets wrong'],
  [/<([\w-]+:)?pattern\b/, 'patterns, whose pieces the renderer stretches to whole pixels'],
  [/auto-start-reverse/, 'markers that turn over at the start, which the renderer does not know'],
  [
    /(scale|matrix)\([^)]*?(?<![\d.])-?(0?\.000[0-2]|\d(\.\d+)?e-([4-9]|\d\d))/,
    'transforms so small that the renderer leaves out what they hold',
  ],
  [/non-scaling-stroke/, 'lines that do not scale, which the renderer scales'],
];

const cannot = (why: string): Seen => ({ same: null, why, share: 0, places: [], letterless: false });

/**
 * Whether what was read of an SVG looks like the file: the file drawn by a renderer that is not ours, held against our own
 * picture of what was read. Nothing that was decided plays a part, so places are parts of the page; `tells`: so many rows of what is
 * done where nothing is decided say that something is not seen as it was. `drawing` as it was read.
 */
export function seenInSource(
  bytes: Uint8Array,
  drawing: Drawing,
  renderer: Renderer,
  fonts: FontBook,
): Seen & { tells: number } {
  const { page } = drawing;
  if (!page) return { ...cannot('it has no page'), tells: 0 };
  const text = new TextDecoder().decode(bytes);
  if (text.length > LARGEST) return { ...cannot('it is too large to be drawn'), tells: 0 };
  const why = whyNotDrawn(text);
  if (why !== null) return { ...cannot(why), tells: 0 };
  const { drawing: upright, ledger } = prepare(drawing, NO_DECISIONS, []);
  const tells = ledger.filter((r) => r.action === 'dropped' || r.action === 'approximated').length;
  const frame = upright.page ?? page;
  const seen = held(text, upright, frame, renderer, { fonts, frames: false, thinnest: 0 });
  const places = seen.places.map((p) => ({
    x: (p.x - frame.x) / frame.width,
    y: (p.y - frame.y) / frame.height,
    width: p.width / frame.width,
    height: p.height / frame.height,
  }));
  const unknown = seen.same === false ? UNKNOWN_TO_RENDERER.find(([words]) => words.test(text)) : undefined;
  return unknown
    ? {
        ...seen,
        same: null,
        why: `the file uses ${unknown[1]}`,
        places,
        tells,
      }
    : { ...seen, places, tells };
}

/** Places that are parts of a page, in the coordinates of a page that went where the drawing went; y upwards. */
export const onPage = (places: readonly Frame[], page: Frame | null): Frame[] =>
  !page
    ? []
    : places.map((p) => ({
        x: page.x + p.x * page.width,
        y: page.y + p.y * page.height,
        width: p.width * page.width,
        height: p.height * page.height,
      }));

/** Whether a written SVG looks like the drawing that was written. `back`: the file, read, for its unit and its page. */
export function seenInSvg(
  bytes: Uint8Array,
  written: Drawing,
  back: Drawing,
  renderer: Renderer,
  given: { fonts: FontBook; asked?: AskedLooks },
): Seen {
  if (!back.page) return cannot('it has no page');
  if (!sameUnit(written, back)) return cannot('it counts in another unit');
  const page = back.yDown ? { ...back.page, y: -back.page.y - back.page.height } : back.page;
  const own = new TextDecoder().decode(bytes);
  if (own.length > LARGEST) return cannot('it is too large to be drawn');
  // It may be a copy that came back from anywhere.
  const why = whyNotDrawn(own);
  if (why !== null) return cannot(why);
  const k = PICTURE_SIZE / Math.max(page.width, page.height);
  // What we wrote states its widths in two ways only.
  const text = own.replace(
    /(stroke-width(?:="|:))([\d.]+)/g,
    (_all, says: string, value: string) => says + String(Math.max(Number(value), THINNEST / k)),
  );
  return held(text, written, page, renderer, { ...given, frames: true, thinnest: THINNEST });
}

/** Whether two drawings look alike, both in our own plain picture, fills with the outlines that drafting files give them; `asked`: how `b` was
 * to look otherwise. In the coordinates of `a`; `b` counts in the same unit. */
export function seenAlike(a: Drawing, b: Drawing, renderer: Renderer, fonts: FontBook, asked: AskedLooks = {}): Seen {
  if (!sameUnit(a, b)) return cannot('it counts in another unit');
  const box = boundsOf(a);
  if (box.empty) return { same: true, share: 0, places: [], letterless: false };
  const margin = 0.02 * (Math.max(box.width, box.height) || 1);
  const frame = {
    x: box.minX - margin,
    y: box.minY - margin,
    width: box.width + 2 * margin,
    height: box.height + 2 * margin,
  };
  const k = PICTURE_SIZE / Math.max(frame.width, frame.height);
  const size = { width: Math.max(1, Math.round(frame.width * k)), height: Math.max(1, Math.round(frame.height * k)) };
  const how = { ...size, fonts, letters: true, frames: true, thinnest: THINNEST, outlined: isDrafting(b) };
  const [p, q] = [plainPicture(a, frame, { ...how, asked }), plainPicture(b, frame, how)];
  if (p === null || q === null) return cannot('it holds too much to be drawn');
  if (p === q) return { same: true, share: 0, places: [], letterless: false };
  const [drawn, other] = [renderer.draw(p), renderer.draw(q)];
  if (!drawn || !other) return cannot('the renderer gives it up');
  return told(drawn, other, frame, false);
}

const sameUnit = (a: Drawing, b: Drawing): boolean => {
  const [p, q] = [mmPerUnit(a.unit), mmPerUnit(b.unit)];
  return p === null || q === null ? p === q : Math.abs(p - q) <= UNIT_OFF * p;
};

function held(
  text: string,
  drawing: Drawing,
  frame: Frame,
  renderer: Renderer,
  given: { fonts: FontBook; frames: boolean; thinnest: number; asked?: AskedLooks },
): Seen {
  const letters = !text.includes('textPath') && ofShippedFonts(drawing);
  const theirs = renderer.draw(text, letters);
  if (!theirs) return cannot('the renderer gives it up');
  const [width, height] = theirs.span;
  const plain = plainPicture(drawing, frame, { width, height, letters, ...given });
  if (plain === null) return cannot('it holds too much to be drawn');
  const ours = renderer.draw(plain, letters);
  return !ours || ours.width !== theirs.width || ours.height !== theirs.height
    ? cannot('the renderer gives it up')
    : told(theirs, ours, frame, !letters && drawing.entities.some((e) => e.kind === 'text' || e.kind === 'richText'));
}

/** What comes of two pictures of one frame. */
export function told(a: Picture, b: Picture, frame: Frame, letterless: boolean, how?: Noticing): Seen {
  const { inked, other, spots } = differing(a, b, how);
  const [kx, ky] = [frame.width / a.span[0], frame.height / a.span[1]];
  const seen = spots.filter((s) => s.pixels >= PLACE);
  const share = inked === 0 ? 0 : other / inked;
  return {
    same: seen.length === 0 && share < PART,
    share,
    letterless,
    places: (seen.length > 0 ? seen : spots).slice(0, 20).map((s) => ({
      x: frame.x + s.x * kx,
      y: frame.y + frame.height - (s.y + s.height) * ky,
      width: s.width * kx,
      height: s.height * ky,
    })),
  };
}

const HERE = new Set(
  [...SHIPPED_FONTS.map((f) => f.family), 'sans-serif', 'serif', 'monospace'].map((f) => f.toLowerCase()),
);

/** Whether all letters are of fonts that the renderer has too: then it sets them as we do. */
function ofShippedFonts(drawing: Drawing): boolean {
  return drawing.entities.every((e) => {
    if (e.kind !== 'text' && e.kind !== 'richText') return true;
    const runs = e.kind === 'text' ? (e.runs ?? []) : [];
    return [familyOf(e, drawing), ...runs.flatMap((r) => (r.font ? [r.font.family] : []))].every((f) =>
      HERE.has(f.toLowerCase()),
    );
  });
}

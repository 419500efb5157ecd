import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { isAngular, measuredValue } from '../drawing/dimension.js';
import { dimensionLook } from '../drawing/dimension-style.js';
import { boundsOf } from '../drawing/bounds.js';
import { walk } from '../drawing/resolve.js';
import type { UnitName } from '../drawing/units.js';
import { COMMON_UNITS, unitOf } from '../drawing/units.js';
import { UNSEEN } from '../geometry/tolerance.js';

/** Where a reason comes from: two reasons are independent of each other when they come from different places. */
export type UnitSource =
  'stated' | 'settings' | 'dimensions' | 'lettering' | 'frames' | 'holes' | 'lengths' | 'names' | 'size' | 'siblings';

/** One thing in a drawing that is evidence for a unit, or (negative weight) against it. */
export interface UnitReason {
  text: string;
  weight: number;
  source: UnitSource;
}

/** Another drawing of the same job, as far as it is evidence for the unit of this one. */
export interface UnitSibling {
  name: string;
  /** Its unit, stated or decided. */
  unit: UnitName;
  /** Its size in its own coordinates; `null` when nothing is drawn in it. */
  size: { width: number; height: number } | null;
}

/** A unit that a drawing without one may be in, with the evidence for it. */
export interface UnitSuggestion {
  unit: UnitName;
  /** The sum of the weights. */
  score: number;
  reasons: UnitReason[];
}

/** Sizes of paper in mm (ISO 216; ANSI/ASME Y14.1), the short side first. */
const SHEETS: [string, number, number][] = [
  ['A4', 210, 297],
  ['A3', 297, 420],
  ['A2', 420, 594],
  ['A1', 594, 841],
  ['A0', 841, 1189],
  ['A (letter)', 215.9, 279.4],
  ['B (tabloid)', 279.4, 431.8],
  ['C', 431.8, 558.8],
  ['D', 558.8, 863.6],
  ['E', 863.6, 1117.6],
];
/** Heights of lettering on paper in mm (ISO 3098), the usual ones first, and the scales that drawings are made at. */
const LETTERS = [2.5, 3.5, 5, 1.8, 7, 10];
const SCALES = [1, 2, 5, 10, 20, 25, 50, 100, 200, 500];
/** Clearance holes for metric screws in mm (ISO 273, medium). */
const CLEARANCE = [1.8, 2.4, 2.9, 3.4, 4.5, 5.5, 6.6, 9, 11, 13.5, 17.5, 22];
const METRIC: readonly UnitName[] = ['mm', 'cm', 'm'];
const IMPERIAL: readonly UnitName[] = ['in', 'ft'];

const close = (a: number, b: number, part: number): boolean => Math.abs(a - b) <= part * Math.abs(b);
/** Whether a number is a whole multiple of a step, within what rounding leaves. */
const multiple = (v: number, step: number): boolean =>
  Math.abs(v / step - Math.round(v / step)) < 1e-6 * Math.max(1, v / step);
const number = (v: number): string => String(Number(v.toPrecision(4)));

/**
 * What a drawing says about its unit beside its header: units typed into dimensions, the kind of length display, heights
 * of text, frames as large as a sheet, sizes of holes, roundness of lengths, names, how large the drawing would be, and the
 * units of its siblings in the job. The paper of a sheet is no evidence: it is counted in millimetres whatever the drawing
 * is. The likeliest first. A suggestion only: nothing is decided by it.
 */
export function unitEvidence(drawing: Drawing, siblings: readonly UnitSibling[] = []): UnitSuggestion[] {
  const found = new Map<UnitName, UnitReason[]>(COMMON_UNITS.map((u) => [u, []]));
  const from =
    (source: UnitSource): Say =>
    (units, weight, text) => {
      for (const u of units) found.get(u)?.push({ text, weight, source });
    };
  const claim = drawing.unit;
  if (claim && claim.unit !== 'px') from('stated')([claim.unit], 2.5, `the file states ${claim.unit}`);
  settings(drawing, from('settings'));
  const seen = gather(drawing);
  dimensions(seen.typed, from('dimensions'));
  letters(seen.heights, from('lettering'));
  frames(seen.rectangles, from('frames'));
  holes(seen.diameters, from('holes'));
  roundness(seen.lengths, from('lengths'));
  names(drawing, from('names'));
  overall(drawing, from('size'));
  family(drawing, siblings, from('siblings'));
  return [...found]
    .map(([unit, reasons]) => ({
      unit,
      reasons: reasons.sort((a, b) => Math.abs(b.weight) - Math.abs(a.weight)),
      score: reasons.reduce((sum, r) => sum + r.weight, 0),
    }))
    .sort((a, b) => b.score - a.score);
}

/** How sure evidence makes one: a tie names all units that are as likely. */
export interface UnitVerdict {
  sure: 'almost' | 'probably' | 'perhaps' | 'tie';
  units: UnitName[];
  reasons: UnitReason[];
}

/** The least evidence that is worth a word, and by how much one unit must lead for each degree of being sure. */
const LEAST = 0.8;
const LEADS = [
  [2, 'almost'],
  [0.8, 'probably'],
  [0.3, 'perhaps'],
] as const;
/** What contests a stated unit: so much more evidence, by at least two independent reasons of such a weight. */
const CONTEST = 1.5;
const STRONG = 0.8;

/**
 * What evidence comes to, for a drawing that states a unit or none; `null` when there is nothing to say. A stated unit is
 * only contested by two independent reasons and a clear lead; a lead too small to tell is said to be a tie.
 */
export function unitVerdict(evidence: readonly UnitSuggestion[], stated: UnitName | null): UnitVerdict | null {
  const [best] = evidence;
  if (!best) return null;
  const ahead = best.score - Math.max(0, evidence[1]?.score ?? 0);
  const sure = LEADS.find(([by]) => ahead >= by)?.[1] ?? 'tie';
  if (stated !== null) {
    const own = evidence.find((e) => e.unit === stated);
    const strong = new Set(best.reasons.filter((r) => r.weight >= STRONG).map((r) => r.source));
    const contested =
      own !== undefined && best.unit !== stated && best.score - own.score >= CONTEST && strong.size >= 2;
    return contested && sure !== 'tie' ? { sure, units: [best.unit], reasons: best.reasons } : null;
  }
  if (best.score < LEAST) return null;
  if (sure !== 'tie') return { sure, units: [best.unit], reasons: best.reasons };
  const level = evidence.filter((e) => best.score - e.score < LEADS[2][0]);
  return { sure, units: level.map((e) => e.unit), reasons: best.reasons };
}

type Say = (units: readonly UnitName[], weight: number, text: string) => void;

function settings(drawing: Drawing, say: Say): void {
  const value = (name: string): number => Number(drawing.header.get(name)?.[0]?.[1] ?? NaN);
  if (value('$MEASUREMENT') === 0) say(IMPERIAL, 0.3, 'hatch and linetype settings are for inches');
  if (value('$MEASUREMENT') === 1) say(METRIC, 0.6, 'hatch and linetype settings are metric');
  const form = value('$LUNITS');
  if (form === 3 || form === 4) say(['in'], 2, 'lengths are displayed in feet and inches, where one unit is an inch');
  if (form === 5) say(['in'], 0.8, 'lengths are shown in fractions');
}

interface Seen {
  /** Numbers with a unit typed into dimensions: which unit, the number, what is measured. */
  typed: { unit: UnitName; value: number; measured: number }[];
  heights: Map<number, number>;
  rectangles: [number, number][];
  diameters: number[];
  lengths: number[];
}

const MOST = 20_000;

function gather(drawing: Drawing): Seen {
  const seen: Seen = { typed: [], heights: new Map(), rectangles: [], diameters: [], lengths: [] };
  walk(drawing, ({ entity: e, depth }) => {
    if (e.kind === 'dimension') {
      const measured = isAngular(e) ? null : measuredValue(e);
      const typed =
        measured === null
          ? null
          : typedUnit(e.override, dimensionLook(drawing, e.style, e.extended).wrapping, measured);
      if (typed && measured !== null && measured > 0 && seen.typed.length < MOST)
        seen.typed.push({ ...typed, measured });
    } else if (depth === 0 && (e.kind === 'richText' || (e.kind === 'text' && e.sizeOf === 'capital'))) {
      const h = Number(e.size.toPrecision(4));
      if (h > 0) seen.heights.set(h, (seen.heights.get(h) ?? 0) + 1);
    } else if (e.kind === 'circle' && seen.diameters.length < MOST) seen.diameters.push(2 * e.radius);
    else if (e.kind === 'line' && depth === 0 && seen.lengths.length < MOST)
      seen.lengths.push(Math.hypot(e.end[0] - e.start[0], e.end[1] - e.start[1]));
    else if (e.kind === 'polyline') {
      const r = rectangle(e);
      if (r && seen.rectangles.length < MOST) seen.rectangles.push(r);
    }
  });
  return seen;
}

/** A number with a unit in what is typed over a dimension, or a unit that its style puts after the number. */
function typedUnit(override: string, wrapping: string, measured: number): { unit: UnitName; value: number } | null {
  const WORDS: [RegExp, UnitName][] = [
    [/^mm\b/i, 'mm'],
    [/^cm\b/i, 'cm'],
    [/^m\b/, 'm'],
    [/^(in\b|inch|")/i, 'in'],
    [/^(ft\b|')/i, 'ft'],
  ];
  const unitAfter = (text: string): UnitName | null => WORDS.find(([w]) => w.test(text.trimStart()))?.[1] ?? null;
  const plain = override.replace(/\\[A-Za-z][^;]*;|[{}]/g, '');
  const own = /([-+]?\d+(?:[.,]\d+)?)\s*(mm|cm|m|in|inch|ft|"|')(?![A-Za-z])/i.exec(plain);
  if (own) {
    const unit = unitAfter(own[2]!);
    const value = Number(own[1]!.replace(',', '.'));
    return unit && value > 0 ? { unit, value } : null;
  }
  const after = /<>\s*(\S+)/.exec(plain === '' ? wrapping : plain)?.[1];
  const unit = after ? unitAfter(after) : null;
  return unit ? { unit, value: measured } : null;
}

/** Width and height of a closed four-cornered polyline with right angles; `null` for anything else. */
function rectangle(e: Extract<Entity, { kind: 'polyline' }>): [number, number] | null {
  const n = e.points.length / e.dim;
  if (n < 4 || n > 5 || e.bulges || (n === 4 && !e.closed)) return null;
  const at = (i: number): [number, number] => [e.points[e.dim * i]!, e.points[e.dim * i + 1]!];
  const [a, b, c, d] = [at(0), at(1), at(2), at(3)];
  if (n === 5 && Math.hypot(at(4)[0] - a[0], at(4)[1] - a[1]) > 1e-9) return null;
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
  const [w, h] = [Math.hypot(ux, uy), Math.hypot(vx, vy)];
  if (!(w > 0) || !(h > 0) || Math.abs(ux * vx + uy * vy) > UNSEEN * w * h) return null;
  return Math.hypot(a[0] + c[0] - b[0] - d[0], a[1] + c[1] - b[1] - d[1]) < UNSEEN * (w + h) ? [w, h] : null;
}

/** Units typed into dimensions: what is measured, counted in which unit, gives the number? */
function dimensions(typed: Seen['typed'], say: Say): void {
  for (const unit of COMMON_UNITS) {
    const fits = typed.filter((t) => close((t.measured * unitOf(unit).mm) / unitOf(t.unit).mm, t.value, 0.01));
    if (fits.length === 0) continue;
    const [t] = fits;
    const words = `dimensions say ${number(t!.value)} ${t!.unit} where ${number(t!.measured)} is measured`;
    say(
      [unit],
      Math.min(5.5, 3.5 + 0.5 * fits.length),
      fits.length > 1 ? `${words} (${fits.length} of ${typed.length})` : words,
    );
  }
}

/** What one height of lettering weighs: with so many heights, scales and units nearly every number fits something. */
const ONE_HEIGHT = 0.4;
/** What several heights weigh that are usual at one and the same scale. */
const HEIGHTS_AGREE = 1.2;
/** A height that fewer texts have than this part of all says nothing. */
const RARE = 0.05;

/** Lettering of usual heights at a usual scale. */
function letters(heights: Map<number, number>, say: Say): void {
  const all = [...heights.values()].reduce((a, b) => a + b, 0);
  const common = [...heights].filter(([, n]) => n >= RARE * all).sort((a, b) => b[1] - a[1]);
  const most = common[0]?.[0];
  if (most === undefined) return;
  for (const unit of COMMON_UNITS) {
    const { mm } = unitOf(unit);
    const onPaper = (h: number, scale: number): number | undefined =>
      LETTERS.find((l) => close((h * mm) / scale, l, 0.005));
    const fits = SCALES.map((scale) => ({
      scale,
      heights: common.map(([h]) => h).filter((h) => onPaper(h, scale) !== undefined),
    })).filter((f) => f.heights.includes(most));
    // The most that agree; among scales alike the one at which the commonest height is the most usual.
    const usual = (scale: number): number => LETTERS.indexOf(onPaper(most, scale)!);
    const best = fits.sort((a, b) => b.heights.length - a.heights.length || usual(a.scale) - usual(b.scale))[0];
    if (!best) {
      if (most * mm < 0.5 || most * mm > 5000) say([unit], -1, `text would be ${number(most * mm)} mm high`);
      continue;
    }
    const { scale } = best;
    const agree = best.heights.length >= 2 && best.heights.length > common.length / 2;
    say(
      [unit],
      agree ? HEIGHTS_AGREE : ONE_HEIGHT,
      agree
        ? `texts ${best.heights.slice(0, 3).map(number).join(', ')} high print ${best.heights
            .slice(0, 3)
            .map((h) => onPaper(h, scale))
            .join(', ')} mm high at 1:${scale}`
        : `text ${number(most)} high prints ${onPaper(most, scale)} mm high at 1:${scale}`,
    );
  }
}

/** A frame as large as a sheet of paper, at a usual scale. */
function frames(rectangles: readonly [number, number][], say: Say): void {
  for (const unit of COMMON_UNITS) {
    const mm = unitOf(unit).mm;
    let best: { name: string; scale: number; w: number; h: number } | null = null;
    for (const [a, b] of rectangles) {
      const [short, long] = [Math.min(a, b) * mm, Math.max(a, b) * mm];
      for (const [name, w, h] of SHEETS) {
        const scale = Math.round(short / w);
        if (!SCALES.includes(scale) || !close(short / scale, w, 0.001) || !close(long / scale, h, 0.001)) continue;
        if (!best || scale < best.scale) best = { name, scale, w: a, h: b };
      }
    }
    if (best)
      say(
        [unit],
        best.scale === 1 ? 2 : 1.6,
        `a frame of ${number(best.w)} × ${number(best.h)} fits ${/^A\d|^[AE]/.test(best.name) ? 'an' : 'a'} ${best.name} sheet${best.scale === 1 ? '' : ` at 1:${best.scale}`}`,
      );
  }
}

/** What fractions of an inch weigh for feet, which are counted in twelfths. */
const IN_FEET = 0.3;

/** Holes of sizes that drills and screws have. */
function holes(diameters: readonly number[], say: Say): void {
  const sizes = [...new Set(diameters.map((d) => Number(d.toPrecision(6))))];
  if (sizes.length === 0) return;
  const share = (test: (d: number) => boolean): number => sizes.filter(test).length / sizes.length;
  const example = (test: (d: number) => boolean): string => sizes.filter(test).slice(0, 3).map(number).join(', ');
  for (const unit of METRIC) {
    const mm = unitOf(unit).mm;
    const usual = (d: number): boolean =>
      d * mm >= 1 && d * mm <= 60 && (multiple(d * mm, 0.5) || CLEARANCE.some((c) => close(d * mm, c, 1e-6)));
    if (share(usual) >= 0.5) say([unit], 1.2 * share(usual), `holes of Ø ${example(usual)} are metric drill sizes`);
  }
  for (const unit of IMPERIAL) {
    const inch = unitOf(unit).mm / 25.4;
    const usual = (d: number): boolean =>
      d * inch >= 1 / 32 && d * inch <= 3 && multiple(d * inch, 1 / 64) && !multiple(d, 0.5);
    // In feet a size in fractions of an inch has to be looked for; in inches it is plain.
    const plain = unit === 'in' ? 1 : IN_FEET;
    if (share(usual) >= 0.5)
      say([unit], 1.2 * plain * share(usual), `holes of Ø ${example(usual)} are fractions of an inch`);
  }
}

/** Lengths that are whole in steps of one system and not of the other. */
function roundness(lengths: readonly number[], say: Say): void {
  const long = lengths.filter((l) => l > 0);
  if (long.length < 5) return;
  const share = (step: number): number => long.filter((l) => multiple(l, step)).length / long.length;
  const [tenth, sixteenth] = [share(0.1), share(1 / 16)];
  const whole = share(5);
  const percent = (v: number): string => `${Math.round(100 * v)} %`;
  if (whole >= 0.5) say(['mm'], 1, `${percent(whole)} of line lengths are multiples of 5`);
  else if (tenth - sixteenth >= 0.3) say(METRIC, 0.7, `${percent(tenth)} of line lengths are whole tenths`);
  if (sixteenth - tenth >= 0.3)
    for (const unit of IMPERIAL)
      say([unit], unit === 'in' ? 1 : IN_FEET, `${percent(sixteenth)} of line lengths are whole sixteenths`);
}

/** Units in the names of layers and styles. */
function names(drawing: Drawing, say: Say): void {
  const all = [...drawing.layers, ...drawing.dimensionStyles, ...drawing.textStyles].map((x) => x.name);
  const tell = (units: readonly UnitName[], pattern: RegExp): void => {
    const hit = all.find((n) => pattern.test(n));
    if (hit) say(units, 0.8, `the name “${hit}” names the unit`);
  };
  tell(['mm'], /(^|[^a-z])mm([^a-z]|$)|millimet/i);
  tell(['cm'], /(^|[^a-z])cm([^a-z]|$)|centimet/i);
  tell(['in'], /(^|[^a-z])inch(es)?([^a-z]|$)/i);
  tell(IMPERIAL, /imperial/i);
  tell(METRIC, /metric|(^|[^a-z])iso([^a-z]|$)/i);
}

/** How large the whole would be, where that is hard to believe. */
function overall(drawing: Drawing, say: Say): void {
  const box = boundsOf(drawing);
  const size = Math.max(box.width, box.height);
  if (box.empty || size === 0) return;
  for (const unit of COMMON_UNITS) {
    const mm = size * unitOf(unit).mm;
    if (mm < 2) say([unit], -2, `the drawing would be ${number(mm)} mm across`);
    else if (mm > 5e6) say([unit], -1.5, `the drawing would be ${number(mm / 1e6)} km across`);
    else if (mm >= 20 && mm <= 3e5)
      say([unit], 0.2, `the drawing would be ${mm >= 1000 ? `${number(mm / 1000)} m` : `${number(mm)} mm`} across`);
  }
}

/** What the other drawings of the job are in; one of the same size in its own unit is more than a habit. */
function family(drawing: Drawing, siblings: readonly UnitSibling[], say: Say): void {
  const box = boundsOf(drawing);
  const same = siblings.find(
    (s) =>
      s.size !== null &&
      !box.empty &&
      Math.max(box.width, box.height) > 0 &&
      close(s.size.width, box.width, 0.01) &&
      close(s.size.height, box.height, 0.01),
  );
  if (same) say([same.unit], 1, `“${same.name}”, as large in its own coordinates, is in ${same.unit}`);
  for (const unit of COMMON_UNITS) {
    const n = siblings.filter((s) => s.unit === unit).length;
    if (n > siblings.length / 2)
      say(
        [unit],
        0.5,
        `${n} of ${siblings.length} other ${siblings.length === 1 ? 'drawing' : 'drawings'} of the job ${n === 1 ? 'is' : 'are'} in ${unit}`,
      );
  }
}

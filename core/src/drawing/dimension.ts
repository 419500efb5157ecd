import { powerOfTen } from '../geometry/power-of-ten.js';
import { applyPoint, applyVector, planeFrame } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import { cross, dot, length } from '../geometry/vector.js';
import type { Drawing } from './drawing.js';
import { dimensionLook } from './dimension-style.js';
import type { DimensionLook } from './dimension-style.js';
import type { Dimension } from './entity.js';
import { formatAngle, formatLength } from './length-format.js';
import { COINCIDENT, ROUNDING } from '../geometry/tolerance.js';

const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

export const isAngular = (d: Dimension): boolean => d.form === 'angular' || d.form === 'angular3';

/**
 * What a dimension measures, from its own points and not from what it states: a length in drawing units, or an angle in
 * radians. `null` when its points do not span what it measures.
 */
export function measuredValue(d: Dimension): number | null {
  const { points: p } = d;
  switch (d.form) {
    case 'linear': {
      if (!p[13] || !p[14]) return null;
      const direction = applyVector(planeFrame(d.normal ?? [0, 0, 1]), [Math.cos(d.rotation), Math.sin(d.rotation), 0]);
      return Math.abs(dot(minus(p[14], p[13]), direction));
    }
    case 'aligned':
      return p[13] && p[14] ? length(minus(p[14], p[13])) : null;
    case 'radius':
    case 'jogged':
      return p[15] && p[10] ? length(minus(p[15], p[10])) : null;
    case 'diameter':
      return p[15] && p[10] ? length(minus(p[15], p[10])) : null;
    case 'ordinate': {
      if (!p[13] || !p[10]) return null;
      const delta = minus(p[13], p[10]);
      const turn = ordinateTurn(d);
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      return Math.abs(d.ordinateX ? delta[0] * c + delta[1] * s : -delta[0] * s + delta[1] * c);
    }
    case 'angular3':
      return p[13] && p[14] && p[15] && p[10] ? sector(p[15], minus(p[13], p[15]), minus(p[14], p[15]), p[10]) : null;
    case 'angular': {
      if (!p[13] || !p[14] || !p[15] || !p[10] || !p[16]) return null;
      const [u, v] = [minus(p[14], p[13]), minus(p[10], p[15])];
      const vertex = meeting(p[13], u, p[15], v);
      const inside = applyPoint(planeFrame(d.normal ?? [0, 0, 1]), p[16]);
      return vertex === null ? null : betweenLines(vertex, u, v, inside);
    }
    case 'arc': {
      if (!p[13] || !p[14] || !p[15]) return null;
      const radius = length(minus(p[13], p[15]));
      return radius * ccw(minus(p[13], p[15]), minus(p[14], p[15]));
    }
  }
}

/** Group 51, the direction of the x axis that the dimension was made under, is kept among its rest in degrees. */
function ordinateTurn(d: Dimension): number {
  const stated = /(?:^|\n)\s*51\n\s*([-+.\dEe]+)/.exec(d.rest ?? '')?.[1];
  return stated === undefined ? 0 : (-Number(stated) * Math.PI) / 180 || 0;
}

const ccw = (u: Vec3, v: Vec3): number => {
  const a = Math.atan2(cross(u, v)[2], u[0] * v[0] + u[1] * v[1]);
  return a < 0 ? a + 2 * Math.PI : a;
};

/** The angle at `vertex` between two directions on the side where `inside` lies. */
function sector(vertex: Vec3, u: Vec3, v: Vec3, inside: Vec3): number {
  const whole = ccw(u, v);
  return ccw(u, minus(inside, vertex)) <= whole ? whole : 2 * Math.PI - whole;
}

/** Of the four angles that two crossing lines make, the one in which a point lies. */
function betweenLines(vertex: Vec3, u: Vec3, v: Vec3, inside: Vec3): number {
  const back = (w: Vec3): Vec3 => [-w[0], -w[1], -w[2]];
  const w = minus(inside, vertex);
  const rays = [u, v, back(u), back(v)].map((r) => ccw([1, 0, 0], r)).sort((a, b) => a - b);
  const t = ccw([1, 0, 0], w);
  for (let i = 0; i < 4; i++) {
    const [from, to] = [rays[i], rays[(i + 1) % 4]! + (i === 3 ? 2 * Math.PI : 0)];
    if ((t >= from! && t <= to) || (t + 2 * Math.PI >= from! && t + 2 * Math.PI <= to)) return to - from!;
  }
  return rays[1]! - rays[0]!;
}

function meeting(p: Vec3, u: Vec3, q: Vec3, v: Vec3): Vec3 | null {
  const d = u[0] * v[1] - u[1] * v[0];
  if (Math.abs(d) <= ROUNDING * length(u) * length(v)) return null;
  const t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / d;
  return [p[0] + u[0] * t, p[1] + u[1] * t, p[2]];
}

/** The measured value as the style shows it, without what is typed over it. */
export function formatMeasured(d: Dimension, value: number, look: DimensionLook): string {
  if (isAngular(d)) return wrapped(formatAngle(value, look.angleForm, look.angle), look.wrapping);
  const shown = value * look.factor;
  const rounded = look.rounding > 0 ? Math.round(shown / look.rounding) * look.rounding : shown;
  const form = (v: number): string => formatLength(v, look.lengthForm, look.length);
  let text = form(rounded);
  const t = look.tolerance;
  if (t && look.limits) text = `${form(rounded + t.plus)}/${form(rounded - t.minus)}`;
  else if (t) {
    const part = (v: number): string => formatLength(v, look.lengthForm, { ...look.length, precision: t.decimals });
    text += t.plus === t.minus ? `±${part(t.plus)}` : ` +${part(t.plus)}/-${part(t.minus)}`;
  }
  const wrapping = look.wrapping.trim();
  const prefixed = wrapping !== '' && wrapping !== '<>' && !wrapping.startsWith('<>');
  const sign = prefixed ? '' : d.form === 'radius' || d.form === 'jogged' ? 'R' : d.form === 'diameter' ? 'Ø' : '';
  return sign + wrapped(text, look.wrapping);
}

function wrapped(text: string, wrapping: string): string {
  const [own] = wrapping.split('[]');
  if (own === '' || own === undefined) return text;
  return own.includes('<>') ? own.replace('<>', text) : text + own;
}

/**
 * How the text of a dimension stands to what it measures: the value itself, a number that is the value rounded, one
 * that is not (`typedOver`), words without a number, or nothing.
 */
export type DimensionVerdict = 'measured' | 'rounded' | 'typedOver' | 'words' | 'hidden';

export interface DimensionReading {
  /** Drawing units or radians; `null` when the points do not say. */
  measured: number | null;
  /** What a person reads. */
  shown: string;
  verdict: DimensionVerdict;
  /** The number that stands instead of the measured one, in the unit the style shows. */
  typed?: number;
  /** The measured one in that unit. */
  expected?: number;
}

/** Reads a dimension: measured value, shown text, and whether they agree. */
export function readDimensionText(d: Dimension, drawing: Pick<Drawing, 'dimensionStyles'>): DimensionReading {
  const look = dimensionLook(drawing, d.style, d.extended);
  const measured = measuredValue(d);
  const value = measured ?? d.stated ?? null;
  const own = value === null ? '' : formatMeasured(d, value, look);
  if (d.override === '' || d.override === '<>') return { measured, shown: own, verdict: 'measured' };
  if (d.override.trim() === '') return { measured, shown: '', verdict: 'hidden' };
  if (d.override.includes('<>')) return { measured, shown: plain(d.override.replace('<>', own)), verdict: 'measured' };
  const shown = plain(d.override);
  const typed = numberIn(shown, look.length.decimalMark);
  if (typed === null || value === null) return { measured, shown, verdict: 'words' };
  const expected = isAngular(d) ? (value * 180) / Math.PI : value * look.factor;
  // A number stands for all values that round to it.
  const right = Math.abs(typed.value - expected) <= typed.half * (1 + COINCIDENT) + COINCIDENT * Math.abs(expected);
  return { measured, shown, verdict: right ? 'rounded' : 'typedOver', typed: typed.value, expected };
}

const plain = (text: string): string =>
  text
    .replace(/\\[ACFfHhpQTWw][^;]*;|\\[LlOoKk]/g, '')
    .replace(/\\P/g, ' ')
    .replace(/[{}]/g, '')
    .replace(/%%c/gi, 'Ø')
    .replace(/%%d/gi, '°')
    .replace(/%%p/gi, '±');

/**
 * The first number in a text and half of what its last digit counts. Understands decimal points and commas, feet and
 * inches, and fractions.
 */
export function numberIn(text: string, decimalMark = '.'): { value: number; half: number } | null {
  const feet = /(-?\d+(?:\.\d+)?)\s*'\s*-?\s*(?:(\d+(?:\.\d+)?)?\s*(?:(\d+)\/(\d+))?\s*")?/.exec(text);
  if (feet) {
    const [, f, inches = '0', n = '0', m = '1'] = feet;
    const value = Number(f) * 12 + Number(inches) + Number(n) / Number(m);
    const digits = inches.includes('.') ? inches.split('.')[1]!.length : 0;
    return { value, half: feet[4] ? 0.5 / Number(m) : 0.5 * powerOfTen(-digits) };
  }
  const fractional = /(\d+)\s+(\d+)\/(\d+)|(\d+)\/(\d+)/.exec(text);
  if (fractional) {
    const [, whole = '0', n1, m1, n2, m2] = fractional;
    const [n, m] = [Number(n1 ?? n2), Number(m1 ?? m2)];
    if (m > 0) return { value: Number(whole) + n / m, half: 0.5 / m };
  }
  const found = /[-+]?(?:\d+(?:[.,]\d+)*|[.,]\d+)/.exec(text);
  if (!found) return null;
  let digits = found[0];
  const last = Math.max(digits.lastIndexOf('.'), digits.lastIndexOf(','));
  const marks = digits.replace(/[^.,]/g, '');
  // 1,250 with a point as decimal mark is a thousand; 1.250,5 and 1,250.5 group by the other mark.
  const grouping =
    marks.length > 1 && new Set(marks).size === 1
      ? true
      : marks.length === 1 && digits.length - last === 4 && marks !== decimalMark && !/^[-+]?0/.test(digits);
  if (grouping) digits = digits.replace(/[.,]/g, '');
  else if (last >= 0) digits = digits.slice(0, last).replace(/[.,]/g, '') + '.' + digits.slice(last + 1);
  const value = Number(digits);
  if (!Number.isFinite(value)) return null;
  const places = digits.includes('.') ? digits.length - digits.indexOf('.') - 1 : 0;
  return { value, half: 0.5 * powerOfTen(-places) };
}

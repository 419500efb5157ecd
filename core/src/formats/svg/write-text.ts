import type { Affine } from '../../geometry/affine.js';
import { compose, planarSimilarity, translation } from '../../geometry/affine.js';
import { transformPath } from '../../geometry/path.js';
import type { FontRequest, Text, TextRun } from '../../drawing/entity.js';
import type { TextLine } from '../../text/layout.js';
import { escapeXml } from './escape.js';
import { pathText, shortNumber } from './path-text.js';
import type { Properties } from './write-style.js';
import { ROUNDING } from '../../geometry/tolerance.js';

/** The attributes and style of a `text` element for one line, placed on the page by `m` (plane of the text → page). */
export function lineElement(
  line: TextLine,
  m: Affine,
  number: (v: number) => string,
): { attributes: Properties; style: Properties; upright: boolean; scale: number } {
  const place = compose(m, translation(line.x, line.y, 0));
  // From text space (x right, y down, as SVG sets glyphs) to the page.
  const c = Math.cos(line.rotation);
  const s = Math.sin(line.rotation);
  const slant = Math.tan(line.oblique);
  const [fx, fy] = [line.backwards ? -1 : 1, line.upsideDown ? -1 : 1];
  const k = line.widthFactor * fx;
  const local: Affine = [c * k, s * k, 0, (s - c * slant) * fy, (-c - s * slant) * fy, 0, 0, 0, 1, 0, 0, 0];
  const t = compose(place, local);
  const scale = planarSimilarity(t);
  const upright = scale !== null && Math.abs(t[1]) < ROUNDING * scale && t[0] > 0 && t[4] > 0;
  const attributes: Properties = {};
  if (upright) {
    attributes['x'] = number(t[9]);
    attributes['y'] = number(t[10]);
  } else
    attributes['transform'] =
      `matrix(${[t[0], t[1], t[3], t[4]].map((n) => shortNumber(n, 9)).join(' ')} ${number(t[9])} ${number(t[10])})`;
  if (line.stretchTo) {
    attributes['textLength'] = number(line.stretchTo);
    attributes['lengthAdjust'] = 'spacingAndGlyphs';
  }
  const style: Properties = {
    'font-family': familyList(line.family, line.or),
    'font-size': number(line.em * (upright ? scale : 1)),
  };
  if (line.anchor !== 'left') style['text-anchor'] = line.anchor === 'centre' ? 'middle' : 'end';
  if (line.weight !== 400) style['font-weight'] = String(line.weight);
  if (line.italic) style['font-style'] = 'italic';
  const marks = [line.underline && 'underline', line.overline && 'overline', line.strike && 'line-through'];
  if (marks.some(Boolean)) style['text-decoration'] = marks.filter(Boolean).join(' ');
  return { attributes, style, upright, scale: upright ? scale : 1 };
}

/** The family, quoted where its name asks for it, and a generic one to fall back to. */
const familyList = (family: string, or?: readonly string[]): string => {
  if (family === '' && !or) return 'sans-serif';
  const quoted = (name: string): string => (/[^\w -]|^\d/.test(name) ? `'${name.replace(/['"\\]/g, '')}'` : name);
  if (or) return [family, ...or].map(quoted).join(', ');
  return GENERIC.test(family) ? family : `${quoted(family)}, sans-serif`;
};
const GENERIC = /^(sans-serif|serif|monospace|cursive|fantasy)$/;

/**
 * What stands inside the `text` element of a line whose pieces differ or whose letters are moved one by one: `tspan`s
 * with their own style and lists of `dx`, `dy` and `rotate`. `em` is the size of the line in user units of the element.
 */
export function spans(
  text: Text,
  em: number,
  number: (v: number) => string,
  colour: (look: NonNullable<Text['runs']>[number]['look']) => string | null,
  styled: (p: Properties) => string,
): string {
  const runs: readonly TextRun[] = text.runs ?? [{ text: text.text, scale: 1, rise: 0 }];
  const shifts = new Map((text.letters ?? []).map((l) => [l.at, l]));
  let at = 0;
  let risen = 0;
  let out = '';
  for (const run of runs) {
    const letters = [...run.text];
    const [dx, dy, turn]: number[][] = [[], [], []];
    letters.forEach((letter, i) => {
      const s = shifts.get(at);
      dx!.push((s?.dx ?? 0) * em);
      // A run that stands higher is lifted at its first letter, and what follows is lowered again.
      dy!.push(-((s?.dy ?? 0) + (i === 0 ? run.rise - risen : 0)) * em);
      turn!.push(((s?.turn ?? 0) * -180) / Math.PI);
      at += letter.length;
    });
    risen = run.rise;
    const attributes = [list('dx', dx!, number), list('dy', dy!, number), list('rotate', turn!, number)].join('');
    const style: Properties = {};
    if (run.scale !== 1) style['font-size'] = number(em * run.scale);
    if (run.font) fontStyle(run.font, style);
    const fill = run.look ? colour(run.look) : null;
    if (fill !== null) style['fill'] = fill;
    const look = styled(style);
    out += attributes || look ? `<tspan${attributes}${look}>${escapeXml(run.text)}</tspan>` : escapeXml(run.text);
  }
  return out;
}

function fontStyle(font: FontRequest, style: Properties): void {
  style['font-family'] = familyList(font.family, font.or);
  style['font-weight'] = String(font.weight);
  style['font-style'] = font.italic ? 'italic' : 'normal';
}

/** A list attribute without the zeros at its end; nothing where all are zero. */
function list(name: string, values: readonly number[], number: (v: number) => string): string {
  const texts = values.map(number);
  while (texts.length > 0 && texts[texts.length - 1] === '0' && name !== 'rotate') texts.pop();
  return texts.length > 0 && texts.some((t) => t !== '0') ? ` ${name}="${texts.join(' ')}"` : '';
}

/** The path that a text follows, on the page. */
export const trackText = (text: Text, m: Affine, decimals: number): string =>
  pathText(transformPath(text.along!.path, m), decimals);

import { insertOf } from '../../drawing/derive.js';
import type { Vec3 } from '../../geometry/vector.js';
import type { Dimension, FontRequest, Leader, RichText, Text } from '../../drawing/entity.js';
import { partsOf } from '../../drawing/parts.js';
import { linesOf } from '../../text/layout.js';
import type { EntityTags } from './entity-tags.js';
import { draftingWeight, faceName } from './font-faces.js';
import { DIMENSION_FORMS } from './read-annotations.js';
import { encodeText } from './write-text.js';

const HORIZONTAL = ['left', 'centre', 'right', 'aligned', 'middle', 'fit'];
const VERTICAL = ['baseline', 'bottom', 'middle', 'top'];

/** The text style that carries a font request of an illustration format. */
export const styleFor = (e: Text): string => (e.font ? faceName(e.font) : 'Standard');

/** The numbers of a text's alignment and of how it is mirrored, and the two points that go with them. */
export function textPlaces(e: Text): {
  h: number;
  v: number;
  first: Vec3;
  second: Vec3 | undefined;
  generation: number;
} {
  const h = HORIZONTAL.indexOf(e.horizontal);
  const v = VERTICAL.indexOf(e.vertical);
  const simple = h === 0 && v === 0;
  const stretched = e.horizontal === 'aligned' || e.horizontal === 'fit';
  return {
    h,
    v,
    first: stretched || simple ? e.at : (e.other ?? e.at),
    second: stretched ? (e.other ?? e.at) : simple ? e.other : e.at,
    generation: (e.backwards ? 2 : 0) | (e.upsideDown ? 4 : 0),
  };
}

/** TEXT, ATTRIB or ATTDEF. */
export function writeText(w: EntityTags, e: Text, owner: string): void {
  const { x } = w;
  const { out } = x;
  if (e.along || e.spacing || e.runs || e.letters) return writeLetters(w, e, owner);
  const words = (): string => (x.sameFormat && e.content !== undefined ? e.content : encodeText(e.text));
  const goesBy = () => ({ name: x.styles.nameFor(e.style ?? styleFor(e)), said: words() });
  if (e.sizeOf !== 'em' && w.whole('TEXT', e, owner, goesBy)) return;
  const attribute = e.tag !== undefined;
  const type = e.definition ? 'ATTDEF' : attribute ? 'ATTRIB' : 'TEXT';
  w.begin(type, e, owner, 'AcDbText');
  const { h, v, first, second, generation } = textPlaces(e);
  w.thickness(e);
  out.point(10, first);
  if (e.font) tellFace(w, e.font, e.id);
  const family = e.font?.family ?? '';
  out.number(40, e.sizeOf === 'em' ? e.size * x.fonts.capital(family) : e.size);
  if (e.sizeOf === 'em') {
    x.ledger.add({
      carryOver: 'text',
      action: 'changed',
      reason: 'em-as-capitals',
      onPurpose: true,
      id: e.id,
    });
  }
  out.string(1, words());
  out.angle(50, e.rotation);
  if (e.widthFactor !== 1) out.number(41, e.widthFactor);
  if (e.oblique !== 0) out.angle(51, e.oblique);
  out.string(7, x.styles.nameFor(e.style ?? styleFor(e)));
  if (generation !== 0) out.integer(71, generation);
  if (h !== 0) out.integer(72, h);
  if (second) out.point(11, second);
  w.normal(e);
  w.subclass(e.definition ? 'AcDbAttributeDefinition' : attribute ? 'AcDbAttribute' : 'AcDbText');
  if (e.definition) out.string(3, e.definition.prompt);
  if (attribute) {
    out.string(2, e.tag!);
    out.integer(70, (e.hidden ? 1 : 0) | (e.definition?.constant ? 2 : 0) | (e.flags ?? 0));
  }
  if (v !== 0) out.integer(attribute ? 74 : 73, v);
  w.end(e);
}

/** Says where a text style cannot say how heavy or slanted a font is. */
function tellFace({ x }: EntityTags, { weight, italic }: FontRequest, id: number): void {
  const near = draftingWeight(weight);
  if (x.r12 && (near !== 400 || italic))
    x.ledger.add({ carryOver: 'text', action: 'dropped', reason: 'font-faces-need-r13', id });
  else if (near !== weight)
    x.ledger.add({ carryOver: 'text', action: 'approximated', reason: 'font-weights-to-nearest', id });
}

/** Text along a path, or with room between its letters, has no word in DXF: each letter becomes a text of its own. */
function writeLetters(w: EntityTags, e: Text, owner: string): void {
  const { x } = w;
  const { along: _a, spacing: _s, other: _o, content: _c, runs: _r, letters: _l, ...plain } = e;
  const lines = linesOf(e, { textStyles: [] }, x.fonts);
  x.ledger.add({
    carryOver: 'text',
    action: 'changed',
    reason: e.along ? 'path-text-by-letter' : e.spacing || e.letters ? 'letters-apart-by-letter' : 'runs-side-by-side',
    onPurpose: true,
    becomes: { from: 'text', to: 'text', gone: 1, entities: lines.length },
    id: e.id,
  });
  for (const l of lines) {
    const at = [l.x, l.y, e.at[2]] as const;
    const letter: Text = {
      ...plain,
      text: l.text,
      at,
      rotation: l.rotation,
      horizontal: 'left',
      vertical: 'baseline',
      ...(e.sizeOf === 'em' && { size: l.em }),
      ...(e.font && { font: { family: l.family, weight: l.weight, italic: l.italic } }),
      ...(l.paint && { look: { ...e.look, fill: l.paint } }),
    };
    writeText(w, letter, owner);
  }
}

const chunks = (text: string, size: number): string[] => {
  const out: string[] = [];
  for (let i = 0; i < text.length;) {
    let end = Math.min(text.length, i + size);
    // A pair of surrogates stays together.
    if (end < text.length && text.charCodeAt(end - 1) >= 0xd800 && text.charCodeAt(end - 1) < 0xdc00) end--;
    out.push(text.slice(i, end));
    i = end;
  }
  return out;
};

export function writeRichText(w: EntityTags, e: RichText, owner: string): void {
  const { x } = w;
  const { out } = x;
  w.begin('MTEXT', e, owner, 'AcDbMText');
  out.point(10, e.at);
  out.number(40, e.size);
  out.number(41, e.width);
  const column = ['left', 'centre', 'right'].indexOf(e.horizontal);
  const row = ['top', 'middle', 'bottom'].indexOf(e.vertical);
  out.integer(71, 1 + column + 3 * row);
  const pieces = chunks(e.content, 250);
  for (const piece of pieces.slice(0, -1)) out.string(3, piece);
  out.string(1, pieces.at(-1) ?? '');
  out.string(7, x.styles.nameFor(e.style ?? 'Standard'));
  w.normal(e);
  out.angle(50, e.rotation);
  if (x.oneSheet && (e.lineSpacing !== 1 || e.exactSpacing))
    x.ledger.add({
      carryOver: 'text',
      action: 'dropped',
      reason: 'line-spacing-needs-2000',
      onPurpose: true,
      id: e.id,
    });
  out.integer(73, e.exactSpacing ? 2 : 1);
  out.number(44, e.lineSpacing);
  w.end(e);
}

const MARKS: Record<Dimension['form'], readonly string[]> = {
  linear: ['AcDbAlignedDimension', 'AcDbRotatedDimension'],
  aligned: ['AcDbAlignedDimension'],
  angular: ['AcDb2LineAngularDimension'],
  angular3: ['AcDb3PointAngularDimension'],
  diameter: ['AcDbDiametricDimension'],
  radius: ['AcDbRadialDimension'],
  ordinate: ['AcDbOrdinateDimension'],
  arc: ['AcDbArcDimension'],
  jogged: ['AcDbRadialDimensionLarge'],
};

/** DIMENSION or ARC_DIMENSION. An arc length has no word before version 2004 and is written as what shows it. */
export function writeDimension(w: EntityTags, e: Dimension, owner: string): void {
  const { x } = w;
  const { out } = x;
  if (e.form === 'arc' && !x.trueColour && !x.sameVersion) {
    const parts = e.picture ? [] : partsOf(e, { dimensionStyles: [], blocks: new Map() });
    x.ledger.add({
      carryOver: 'text',
      action: 'changed',
      reason: 'arc-dimension-needs-2004',
      onPurpose: true,
      becomes: {
        from: 'dimension',
        to: e.picture ? 'insert' : 'parts',
        gone: 1,
        entities: e.picture ? 1 : parts.length,
      },
      id: e.id,
    });
    if (e.picture) w.write(insertOf(e, e.picture), owner);
    else for (const part of parts) w.write(part, owner);
    return;
  }
  const p = e.points;
  const point = (code: 10 | 11 | 12 | 13 | 14 | 15 | 16 | 17): void => {
    const at = p[code];
    if (at) out.point(code, at);
  };
  w.begin(e.form === 'arc' ? 'ARC_DIMENSION' : 'DIMENSION', e, owner, 'AcDbDimension');
  if (e.picture !== undefined) out.string(2, x.blocks.nameFor(e.picture));
  point(10);
  point(11);
  if (x.r12 || e.form === 'linear' || e.form === 'aligned') point(12);
  const form = DIMENSION_FORMS.indexOf(e.form);
  if (e.form !== 'arc') out.integer(70, form | e.flags | (e.ordinateX ? 64 : 0));
  else out.integer(70, (e.flags & 15) !== 0 ? e.flags : 5 | e.flags);
  out.string(1, e.override);
  if (e.stated !== undefined && !x.r12) out.number(42, e.stated);
  if (e.textRotation !== 0) out.angle(53, e.textRotation);
  w.normal(e);
  out.string(3, x.dimensionStyles.nameFor(e.style));
  const [first, second] = MARKS[e.form];
  w.subclass(first!);
  point(13);
  point(14);
  // Release 12 lists all points whatever the form.
  if (x.r12 || !(e.form === 'linear' || e.form === 'aligned')) {
    point(15);
    point(16);
    point(17);
  }
  if (e.form === 'linear' || e.form === 'aligned') {
    if (e.rotation !== 0) out.angle(50, e.rotation);
    if (e.oblique !== 0) out.angle(52, e.oblique);
  }
  if (second) w.subclass(second);
  w.end(e);
}

export function writeLeader(w: EntityTags, e: Leader, owner: string): void {
  const { x } = w;
  const { out } = x;
  w.begin('LEADER', e, owner, 'AcDbLeader');
  out.string(3, x.dimensionStyles.nameFor(e.style));
  out.integer(71, e.arrow ? 1 : 0);
  out.integer(72, e.curved ? 1 : 0);
  out.integer(76, e.points.length / 3);
  for (let i = 0; i < e.points.length; i += 3) out.point(10, [e.points[i]!, e.points[i + 1]!, e.points[i + 2]!]);
  // The rest says what hangs on it (73); a leader without one says that nothing does.
  if (!(x.sameFormat && e.rest?.includes('\n73\n'))) out.integer(73, 3);
  w.normal(e);
  w.end(e);
}

import type { Entity, HatchLoop, Mesh } from '../drawing/entity.js';
import { piecesOf, pointAt } from '../geometry/path-pieces.js';
import { isPointer, parseRaw } from '../formats/drafting/raw-tags.js';
import { COINCIDENT, ROUNDING } from '../geometry/tolerance.js';

export interface FieldDifference {
  /** The field, or `look.` and the field of its look. */
  field: string;
  /** The id of the attribute that it is about, where it is not the entity itself. */
  id?: number;
  want: string;
  got: string;
}

/** Fields that are about this program or this file, not about what is drawn. */
const OWN = new Set(['id', 'key', 'node', 'clipTo', 'tile', 'classes', 'raw', 'drawn', 'stale', 'format', 'data']);
/** Names are the same whatever their case. */
const NAMES = new Set(['layer', 'style', 'block', 'picture', 'name', 'frozen', 'pattern']);
const ANGLES = new Set(['rotation', 'start', 'end', 'textRotation', 'oblique', 'twist', 'angle']);
/** What one form says and the other works out: how windows are counted, what of a spline follows from its points. */
const ONE_FORM_ONLY = new Set(['rest', 'number', 'stacking', 'flags', 'associative', 'trace', 'fitOnly']);

/**
 * The fields in which two entities of one kind differ. `reach` is the largest coordinate of the drawing. `sameForm`: both come
 * from the same version of the same format, so that what only that form can say counts too.
 */
export function fieldsDiffering(want: Entity, got: Entity, reach: number, sameForm: boolean): FieldDifference[] {
  const out: FieldDifference[] = [];
  const grain = ROUNDING * reach;
  const each = (a: object, b: object, path: string): void => {
    const [p, q] = [a as Record<string, unknown>, b as Record<string, unknown>];
    const fields = Object.keys(a);
    for (const field of Object.keys(b)) if (!(field in a)) fields.push(field);
    for (const field of fields) {
      // Most of what is compared is the same to the last bit.
      if (p[field] === q[field]) continue;
      if (path === '' && (OWN.has(field) || (!sameForm && ONE_FORM_ONLY.has(field)))) continue;
      // Before version 2000 a sheet has no name.
      if (path === '' && field === 'sheet' && !sameForm && (want.sheet === undefined) === (got.sheet === undefined))
        continue;
      if (path === '' && field === 'points' && want.kind === 'dimension') {
        each(p[field] as object, q[field] as object, 'points.');
        continue;
      }
      if (path === '' && field === 'attributes') {
        out.push(...attributesDiffering(p[field] as Entity[], q[field] as Entity[], reach, sameForm));
        continue;
      }
      if (path === '' && field === 'look') {
        if (want.kind === 'opaque' && !sameForm) continue;
        if (want.look !== got.look) each(want.look, got.look, 'look.');
        continue;
      }
      if (path === '' && !countsFor(want, field, sameForm)) continue;
      if (same(p[field], q[field], field, grain)) continue;
      out.push({ field: path + field, want: told(p[field]), got: told(q[field]) });
    }
  };
  each(want, got, '');
  return out;
}

function attributesDiffering(
  a: readonly Entity[],
  b: readonly Entity[],
  reach: number,
  sameForm: boolean,
): FieldDifference[] {
  if (a.length !== b.length) return [{ field: 'attributes', want: `${a.length}`, got: `${b.length}` }];
  return a.flatMap((e, i) =>
    fieldsDiffering(e, b[i]!, reach, sameForm).map((d) => ({ ...d, id: e.id, field: `attributes.${d.field}` })),
  );
}

/** Fields that say nothing for some entities: the full turn of a circle's start, the look of lines that have none. */
function countsFor(e: Entity, field: string, sameForm: boolean): boolean {
  if (e.kind === 'hatch' && e.solid && (field === 'angle' || field === 'scale' || field === 'pattern')) return false;
  if (e.kind === 'spline' && field === 'normal') return false;
  // A picture that had no record in the source is given one, which points at its definition.
  if (e.kind === 'image' && field === 'rest' && e.rest === undefined) return false;
  if (e.kind === 'opaque' && !sameForm) return field === 'type' || field === 'layer' || field === 'sheet';
  return true;
}

const blank = (v: unknown): boolean =>
  v === undefined || v === null || v === false || v === 0 || v === '' || (isList(v) && Array.from(v).every(blank));

const isList = (v: unknown): v is ArrayLike<unknown> =>
  Array.isArray(v) || v instanceof Float64Array || v instanceof Int32Array || v instanceof Uint8Array;

function same(a: unknown, b: unknown, field: string, grain: number): boolean {
  if (a === b) return true;
  if (typeof a === 'number' && typeof b === 'number') return closeEnough(a, b, field, grain);
  if (a instanceof Float64Array && b instanceof Float64Array) return sameNumbers(a, b, grain);
  if (blank(a) && blank(b)) return true;
  if (field === 'normal') return same(a ?? [0, 0, 1], b ?? [0, 0, 1], '', ROUNDING);
  if (typeof a === 'string' && typeof b === 'string') {
    if (field === 'rest' || field === 'extended') return tags(a) === tags(b);
    return NAMES.has(field) && a.toLowerCase() === b.toLowerCase();
  }
  if (field === 'loops')
    return sameLoops(a as readonly HatchLoop[], b as readonly HatchLoop[], (grain * COINCIDENT) / ROUNDING);
  if (field === 'faceLooks') return sameFaces(a as Mesh['faceLooks'], b as Mesh['faceLooks']);
  if (isList(a) && isList(b)) {
    if (a.length !== b.length) return false;
    for (let i = 0; i < a.length; i++) if (!same(a[i], b[i], field === 'frozen' ? 'frozen' : '', grain)) return false;
    return true;
  }
  if (typeof a === 'object' && typeof b === 'object' && a !== null && b !== null) {
    const [p, q] = [a as Record<string, unknown>, b as Record<string, unknown>];
    const keys = new Set([...Object.keys(p), ...Object.keys(q)]);
    // Gradients and the like have ids of their own.
    for (const key of keys) if (key !== 'id' && !same(p[key], q[key], key, grain)) return false;
    return true;
  }
  return false;
}

/** Boundaries of hatches, which are rebuilt from the ends of their arcs: the same pieces by their ends and middles. */
function sameLoops(a: readonly HatchLoop[], b: readonly HatchLoop[], grain: number): boolean {
  if (a.length !== b.length) return false;
  return a.every((loop, i) => {
    const [p, q] = [loop, b[i]!].map((l) => piecesOf(l.path, true).flatMap((s) => s.pieces));
    if (loop.flags !== b[i]!.flags || p!.length !== q!.length) return false;
    return p!.every((piece, k) =>
      [0, 0.5, 1].every((t) => {
        const [u, v] = [pointAt(piece, t), pointAt(q![k]!, t)];
        return Math.hypot(u[0] - v[0], u[1] - v[1]) <= grain;
      }),
    );
  });
}

function sameFaces(a: Mesh['faceLooks'], b: Mesh['faceLooks']): boolean {
  const said = (list: Mesh['faceLooks']): string =>
    JSON.stringify(list?.map((f) => f && [f.layer.toLowerCase(), f.look.stroke]) ?? null);
  return said(a) === said(b);
}

function sameNumbers(a: Float64Array, b: Float64Array, grain: number): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !closeEnough(a[i]!, b[i]!, '', grain)) return false;
  return true;
}

function closeEnough(a: number, b: number, field: string, grain: number): boolean {
  const off = Math.abs(a - b);
  if (off <= Math.max(grain, ROUNDING * Math.max(Math.abs(a), Math.abs(b)))) return true;
  if (!ANGLES.has(field)) return false;
  const turn = off % (2 * Math.PI);
  return Math.min(turn, 2 * Math.PI - turn) <= COINCIDENT;
}

/**
 * Tags of a source's own form, however their lines end and their numbers are spelt. What points elsewhere is left out, with the
 * groups it stands in: it is taken out where it would lead nowhere, and led to new handles where those changed.
 */
const tags = (raw: string): string =>
  parseRaw(raw)
    .filter(([code]) => !isPointer(code) && code !== 102)
    .map(([code, value]) => [code, value.trim()] as const)
    .map(([code, v]) => `${code} ${/^-?\d+\.?\d*(e[-+]?\d+)?$/i.test(v) ? String(Number(v)) : v}`)
    .join('\n');

/** A value for a person. */
function told(v: unknown): string {
  if (v === undefined || v === null) return 'nothing';
  if (typeof v === 'number') return String(Number(v.toPrecision(12)));
  if (typeof v === 'string') return `“${v.replace(/\s+/g, ' ').slice(0, 40)}”`;
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (isList(v)) return v.length <= 3 ? Array.from(v, told).join(', ') : `${v.length} numbers`;
  const paint = v as Record<string, unknown>;
  return Object.entries(paint)
    .filter(([k]) => k !== 'kind' || Object.keys(paint).length === 1)
    .map(([k, w]) => `${k} ${typeof w === 'object' ? JSON.stringify(w).slice(0, 40) : String(w)}`)
    .join(', ');
}

import type { PartBase } from '../../drawing/arrows.js';
import type { Entity } from '../../drawing/entity.js';
import type { Vec3 } from '../../geometry/vector.js';
import { cross, dot, scaled, unit } from '../../geometry/vector.js';
import type { RawTag } from './raw-tags.js';
import { COINCIDENT } from '../../geometry/tolerance.js';

interface SolidRecord {
  name: string;
  tokens: string[];
}

/** The text behind groups 1 and 3 of a body: every character but the blank is stored as 159 minus its code. */
export function decodeSolidText(tags: readonly RawTag[]): string {
  let out = '';
  for (const [code, value] of tags) {
    if (code !== 1 && code !== 3) continue;
    if (code === 1 && out !== '') out += '\n';
    // A caret stands as caret and blank, as in all text of the format.
    for (const c of value.replace(/\^ /g, '^')) {
      const n = c.charCodeAt(0);
      out += n > 32 && n < 127 ? String.fromCharCode(159 - n) : c;
    }
  }
  return out;
}

/** The records of a body's text: what stands between the three lines of its head and each `#`. */
function recordsOf(text: string): SolidRecord[] {
  const lines = text.split('\n');
  const body = lines.slice(3).join(' ');
  return body.split('#').map((r) => {
    const tokens = r
      .trim()
      .split(/\s+/)
      .filter((t) => t !== '');
    if (/^-\d+$/.test(tokens[0] ?? '')) tokens.shift();
    return { name: tokens[0] ?? '', tokens: tokens.slice(1) };
  });
}

const numbersOf = (r: SolidRecord): number[] =>
  r.tokens
    .filter((t) => /^[+-]?(\d|\.\d)/.test(t))
    .map(Number)
    .filter(Number.isFinite);

/**
 * The edges of a planar region, as lines and elliptic arcs in space. Understood are straight and elliptic curves; other
 * edges and bodies in binary form give nothing.
 */
export function regionEdges(tags: readonly RawTag[], part: PartBase): Entity[] {
  const records = recordsOf(decodeSolidText(tags));
  const at = (pointer: string): SolidRecord | undefined =>
    /^\$\d+$/.test(pointer) ? records[Number(pointer.slice(1))] : undefined;
  const pointOf = (vertex: SolidRecord): Vec3 | null => {
    const p = vertex.tokens.map(at).find((r) => r?.name === 'point');
    const n = p ? numbersOf(p) : [];
    return n.length >= 3 ? [n[n.length - 3]!, n[n.length - 2]!, n[n.length - 1]!] : null;
  };
  const { normal: _n, ...flat } = part;
  const out: Entity[] = [];
  for (const edge of records) {
    if (edge.name !== 'edge') continue;
    const pointed = edge.tokens.map(at);
    const ends = pointed.filter((r) => r?.name === 'vertex').map((r) => pointOf(r!));
    const curve = pointed.find((r) => r?.name.endsWith('-curve'));
    const [a, b] = [ends[0], ends[1] ?? ends[0]];
    if (!a || !b || !curve) continue;
    if (curve.name === 'straight-curve') {
      out.push({ kind: 'line', ...flat, start: a, end: b });
      continue;
    }
    if (curve.name !== 'ellipse-curve') continue;
    const n = numbersOf(curve).slice(-200);
    // Centre, normal, major half axis and ratio follow the pointers and the (optional) index.
    const first = n.length >= 11 && Number.isInteger(n[0]) && n.length % 2 === 1 ? n.length - 10 : 0;
    const v = n.slice(first);
    if (v.length < 10) continue;
    const centre: Vec3 = [v[0]!, v[1]!, v[2]!];
    const normal = unit([v[3]!, v[4]!, v[5]!]);
    const major: Vec3 = [v[6]!, v[7]!, v[8]!];
    const ratio = v[9]!;
    const minor = scaled(cross(normal, major), ratio);
    const angle = (p: Vec3): number => {
      const d: Vec3 = [p[0] - centre[0], p[1] - centre[1], p[2] - centre[2]];
      return Math.atan2(dot(d, minor) / dot(minor, minor), dot(d, major) / dot(major, major));
    };
    const reversed = edge.tokens.includes('reversed');
    const [start, end] = reversed ? [angle(b), angle(a)] : [angle(a), angle(b)];
    const whole = a.every((c, i) => Math.abs(c - b[i]!) < COINCIDENT * (1 + Math.abs(c)));
    out.push({
      kind: 'ellipse',
      ...flat,
      centre,
      major,
      ratio,
      start: whole ? 0 : start,
      end: whole ? 2 * Math.PI : end,
      ...(normal[2] !== 1 && { normal }),
    });
  }
  return out;
}

import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, planar, rotation, scaling, translation } from '../../geometry/affine.js';

const CALL = /([a-zA-Z]+)\s*\(([^)]*)\)/g;
const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g;

/** A `transform` attribute or property; angles in degrees unless a unit says otherwise. `null` when it makes no sense. */
export function parseTransform(text: string | undefined): Affine | null {
  if (!text || text.trim() === 'none') return IDENTITY;
  let m: Affine = IDENTITY;
  let any = false;
  for (const [, name, list] of text.matchAll(CALL)) {
    const v = (list.match(NUMBER) ?? []).map(Number);
    const next = single(name.toLowerCase(), v);
    if (!next) return null;
    m = compose(m, next);
    any = true;
  }
  return any && m.every(Number.isFinite) ? m : null;
}

function single(name: string, v: number[]): Affine | null {
  const rad = (d: number): number => (d * Math.PI) / 180;
  switch (name) {
    case 'matrix':
      return v.length === 6 ? planar(v[0], v[1], v[2], v[3], v[4], v[5]) : null;
    case 'translate':
      return v.length >= 1 ? translation(v[0], v[1] ?? 0) : null;
    case 'translatex':
      return translation(v[0] ?? 0, 0);
    case 'translatey':
      return translation(0, v[0] ?? 0);
    case 'scale':
      return v.length >= 1 ? scaling(v[0], v[1] ?? v[0], 1) : null;
    case 'rotate': {
      if (v.length === 0) return null;
      const r = rotation(rad(v[0]));
      return v.length >= 3 ? compose(translation(v[1], v[2]), compose(r, translation(-v[1], -v[2]))) : r;
    }
    case 'skewx':
      return planar(1, 0, Math.tan(rad(v[0] ?? 0)), 1, 0, 0);
    case 'skewy':
      return planar(1, Math.tan(rad(v[0] ?? 0)), 0, 1, 0, 0);
    default:
      return null;
  }
}

/**
 * The map of a `viewBox` onto a viewport by `preserveAspectRatio` (SVG 2 §8.2): the box (x, y, w, h) into the rectangle
 * (0, 0, width, height).
 */
export function viewBoxMap(
  box: { x: number; y: number; width: number; height: number },
  width: number,
  height: number,
  preserve: string | undefined,
): Affine {
  const [align = 'xMidYMid', how = 'meet'] = (preserve ?? '')
    .trim()
    .split(/\s+/)
    .filter((w) => w !== 'defer' && w !== '');
  let kx = width / box.width;
  let ky = height / box.height;
  if (align !== 'none') kx = ky = how === 'slice' ? Math.max(kx, ky) : Math.min(kx, ky);
  const part = (axis: 'x' | 'y'): number => {
    const word = new RegExp(`${axis}(Min|Mid|Max)`, 'i').exec(align)?.[1]?.toLowerCase() ?? 'mid';
    return word === 'min' ? 0 : word === 'max' ? 1 : 0.5;
  };
  const tx = align === 'none' ? 0 : (width - box.width * kx) * part('x');
  const ty = align === 'none' ? 0 : (height - box.height * ky) * part('y');
  return planar(kx, 0, 0, ky, tx - box.x * kx, ty - box.y * ky);
}

export function parseViewBox(text: string | undefined): { x: number; y: number; width: number; height: number } | null {
  const v = (text?.match(NUMBER) ?? []).map(Number);
  return v.length === 4 && v[2] > 0 && v[3] > 0 ? { x: v[0], y: v[1], width: v[2], height: v[3] } : null;
}

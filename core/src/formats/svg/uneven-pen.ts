import type { Appearance } from '../../drawing/appearance.js';
import type { Entity } from '../../drawing/entity.js';
import { flattenEntity } from '../../drawing/flatten.js';
import { BoundsSink, addEntityBounds } from '../../drawing/measures.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY } from '../../geometry/affine.js';
import { CHORDS } from '../../geometry/tolerance.js';

/** Scales that differ by less than this part make a pen that looks round. */
const ROUND = 1e-3;
/** A line that is so much wider in one place than in another, as a part of its width, is seen to be. */
const SEEN = 0.05;

/** A look with the pen that a shape is drawn with where its transform scales unequally. */
export interface UnevenPen {
  look: Appearance;
  /** The line is wider in some directions than in others, which one width cannot say. */
  bent: boolean;
}

/**
 * A transform that scales unequally makes a round pen an ellipse: a line is as wide as the pen is across its direction. A line
 * of one direction gets exactly that width; of several, the mean of what its parts have. `shape` as transformed by `m`, `look` with
 * width and dashes by the mean scale of `m`, √|det|. `null` where the pen stays round.
 *
 * Of a direction d: a length l of the shape becomes l·|d|/|M⁻¹d|, and areas grow by |det M|, so the width by |det M|·|M⁻¹d|/|d|.
 */
export function unevenPen(shape: Entity, look: Appearance, m: Affine): UnevenPen | null {
  if (look.stroke.kind === 'none' || look.width.kind !== 'drawing') return null;
  const [a, b, c, d] = [m[0], m[1], m[3], m[4]];
  const det = Math.abs(a * d - b * c);
  const sum = (a * a + b * b + c * c + d * d) / 2;
  // The larger scale squared by det: the ratio of both.
  const ratio = det > 0 ? (sum + Math.sqrt(Math.max(0, sum * sum - det * det))) / det : 1;
  if (!(ratio > 1 + ROUND) || !Number.isFinite(ratio)) return null;
  const scale = Math.sqrt(det);
  // |det M|·|M⁻¹ d| is the length of adj(M) d.
  const factorOf = (x: number, y: number): number => Math.hypot(d * x - c * y, a * y - b * x) / Math.hypot(x, y);
  let [length, width, least, most] = [0, 0, Infinity, 0];
  let [px, py] = [0, 0];
  const bounds = new BoundsSink();
  addEntityBounds(shape, IDENTITY, bounds);
  flattenEntity(shape, IDENTITY, (bounds.box.diagonal || 1) * CHORDS, {
    moveTo: (x, y) => void ([px, py] = [x, y]),
    lineTo: (x, y) => {
      const l = Math.hypot(x - px, y - py);
      if (l > 0) {
        const factor = factorOf(x - px, y - py);
        length += l;
        width += l * factor;
        least = Math.min(least, factor);
        most = Math.max(most, factor);
      }
      [px, py] = [x, y];
    },
  });
  if (length === 0) return null;
  const factor = width / length;
  const { dash } = look;
  const along = det / factor / scale;
  return {
    look: {
      ...look,
      width: { kind: 'drawing', value: (look.width.value * factor) / scale },
      ...(dash.kind === 'lengths' && {
        dash: { ...dash, lengths: dash.lengths.map((v) => v * along), offset: dash.offset * along },
      }),
    },
    bent: most - least > SEEN * factor,
  };
}

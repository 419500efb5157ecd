import { chordsFor, pointAt } from '../geometry/path-pieces.js';
import { Coverage } from '../geometry/raster/coverage.js';
import type { Labelled } from './labels.js';
import { NONE } from './labels.js';
import type { TracedArea } from './trace.js';

/** How far chords may lie from their curves, in pixels. */
const FINE = 0.05;

/** The part of all pixels that are of another area for more than half, where areas are drawn on the pixels that they were traced from. */
export function differing(areas: readonly TracedArea[], { width, height, labels }: Labelled): number {
  const owner = new Uint8Array(width * height).fill(NONE);
  const most = new Float32Array(width * height).fill(0.5);
  const coverage = new Coverage(width, height);
  for (const { label, loops } of areas) {
    for (const loop of loops)
      for (const piece of loop) {
        const n = chordsFor(piece, FINE);
        for (let k = 0; k < n; k++) coverage.edge(...pointAt(piece, k / n), ...pointAt(piece, (k + 1) / n));
      }
    coverage.sweep('evenodd', (y, from, to, part) => {
      for (let i = y * width + from; i < y * width + to; i++)
        if (part > most[i]!) {
          most[i] = part;
          owner[i] = label;
        }
    });
  }
  let n = 0;
  for (let i = 0; i < labels.length; i++) if (owner[i] !== labels[i]) n++;
  return labels.length === 0 ? 0 : n / labels.length;
}

import type { Drawing } from '../drawing/drawing.js';
import { flattenEntity } from '../drawing/flatten.js';
import { boundsOf } from '../drawing/measures.js';
import { hex } from '../drawing/palette.js';
import { walk } from '../drawing/resolve.js';

const MAX_POINTS = 20_000;

/**
 * A small picture of a drawing (y upwards) as plain SVG: lines and fills only, coordinates in a box `width` wide. Made of
 * numbers and colours alone, so that nothing of the source's own markup reaches the page. Stops after 20,000 points.
 * Of a `sheet` what lies on the sheet itself is shown, on its paper, with the frames of its windows.
 */
export function previewSvg(drawing: Drawing, width = 320, height = 200, sheet?: string): string {
  const space = sheet === undefined ? {} : { sheet };
  const box = boundsOf(drawing, space);
  const paper = drawing.sheets.find((s) => s.name === sheet);
  if (paper?.paper) {
    const { width: w, height: h, marginLeft, marginBottom } = paper.paper;
    const k = paper.unitsPerMm;
    box.add(-marginLeft * k, -marginBottom * k);
    box.add((w - marginLeft) * k, (h - marginBottom) * k);
  }
  const pad = 12;
  const head = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}">`;
  if (box.empty) return `${head}</svg>`;
  const k = Math.min((width - 2 * pad) / (box.width || 1e-9), (height - 2 * pad) / (box.height || 1e-9));
  const [ox, oy] = [(width - box.width * k) / 2, (height - box.height * k) / 2];
  const parts: string[] = [];
  let points = 0;
  walk(
    drawing,
    ({ entity, toWorld, resolved }) => {
      if (points > MAX_POINTS) return;
      let d = '';
      const at = (x: number, y: number): string =>
        `${((x - box.minX) * k + ox).toFixed(1)} ${(height - oy - (y - box.minY) * k).toFixed(1)}`;
      flattenEntity(entity, toWorld, 0.3 / k, {
        moveTo: (x, y) => void (d += `M${at(x, y)}`),
        lineTo: (x, y) => {
          d += `L${at(x, y)}`;
          points++;
        },
      });
      if (d === '') return;
      const solid = entity.kind === 'hatch' || (entity.kind === 'face' && entity.solid);
      const fill =
        entity.kind === 'hatch' && !entity.solid ? null : (resolved.fill ?? (solid ? resolved.stroke : null));
      const stroke = solid ? null : resolved.stroke;
      parts.push(
        `<path d="${d}" fill="${fill === null ? 'none' : hex(fill)}" stroke="${stroke === null ? 'none' : hex(stroke)}" fill-rule="evenodd"/>`,
      );
    },
    space,
  );
  return `${head}<g stroke-width=".8">${parts.join('')}</g></svg>`;
}

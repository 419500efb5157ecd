import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import { Ledger } from '../drawing/ledger.js';
import { Lineage } from '../drawing/lineage.js';
import { Box2 } from '../geometry/box.js';
import { runsOf } from '../drawing/courses.js';
import { endOf, startOf } from '../geometry/path-pieces.js';
import { previewMap, previewSvg } from '../scene/preview.js';
import { plannedStep } from '../steps/step.js';
import type { OfferedStep } from '../steps/step.js';
import type { StepWork } from '../steps/index.js';
import { runStep } from '../steps/index.js';
import type { FontBook } from '../text/fonts.js';
import { textToOutlines } from '../text/outlines.js';

/** Colours by which layers are told apart where that is what a step is about. */
const BY_LAYER = [0x000000, 0x1c5470, 0x97351b, 0x7a6a2e, 0x5b4a7a, 0x3f6b4a];

/** What is at hand where a step shows what it does. */
export const exampleWork = ({ example }: OfferedStep, fonts: FontBook): StepWork => ({
  fonts,
  ...(example.references && { references: example.references() }),
});

/** Before and after a step on its own example, as pictures of one scale: what the step says is drawn by the step. */
export function examplePictures(step: OfferedStep, fonts: FontBook): { before: string; after: string } {
  const before = step.example.drawing();
  const after = runStep(before, plannedStep(step, 'example', step.example.params), exampleWork(step, fonts)).drawing;
  const [a, b] = [before, after].map((d) => shown(d, fonts, step.group === 'layers'));
  const frame = new Box2();
  frame.addBox(boundsOf(a!));
  frame.addBox(boundsOf(b!));
  const [width, height] = [112, 64];
  const picture = (d: Drawing): string => {
    const svg = previewSvg(d, width, height, undefined, frame).replace('stroke-width=".8"', 'stroke-width="1.6"');
    const marked = step.group === 'clean' || step.group === 'curves' || step.group === 'regions';
    return marked ? svg.replace('</g></svg>', `${pointMarks(d, frame, width, height)}</g></svg>`) : svg;
  };
  return { before: picture(a!), after: picture(b!) };
}

/** Where curves end, as rings, and where they only bend, as small squares: what is one and what is many. */
function pointMarks(drawing: Drawing, frame: Readonly<Box2>, width: number, height: number): string {
  const { at } = previewMap(frame, width, height);
  const placed = ([x, y]: readonly [number, number]): [string, string] => {
    const [u, v] = at(x, y);
    return [u.toFixed(1), v.toFixed(1)];
  };
  const ring = (x: string, y: string): string => `<circle cx="${x}" cy="${y}" r="3" fill="none" stroke="#000000"/>`;
  const out: string[] = [];
  for (const e of drawing.entities)
    for (const { pieces, closed } of runsOf(e) ?? []) {
      if (e.kind === 'circle') continue;
      pieces.forEach((p, i) => {
        const [x, y] = placed(startOf(p));
        out.push(i === 0 && !closed ? ring(x, y) : `<path d="M${x} ${y}m-2 -2h4v4h-4z" fill="#000000" stroke="none"/>`);
      });
      if (closed) continue;
      out.push(ring(...placed(endOf(pieces[pieces.length - 1]!))));
    }
  return out.join('');
}

/** A drawing with its letters as shapes, which a small picture can show, and its layers in colours of their own. */
function shown(drawing: Drawing, fonts: FontBook, byLayer: boolean): Drawing {
  const lettered = textToOutlines(drawing, fonts, new Ledger('example'), 'outlines', new Lineage());
  if (!byLayer) return lettered;
  const names = [...new Set(lettered.entities.map((e) => e.layer))].sort();
  return {
    ...lettered,
    entities: lettered.entities.map((e) => ({
      ...e,
      look: { ...e.look, stroke: { kind: 'rgb' as const, rgb: BY_LAYER[names.indexOf(e.layer) % BY_LAYER.length]! } },
    })),
  };
}

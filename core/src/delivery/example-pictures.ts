import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import { Ledger } from '../drawing/ledger.js';
import { Lineage } from '../drawing/lineage.js';
import { Box2 } from '../geometry/box.js';
import { previewSvg } from '../scene/preview.js';
import { plannedStep } from '../steps/step.js';
import type { OfferedStep } from '../steps/step.js';
import { runStep } from '../steps/index.js';
import type { FontBook } from '../text/fonts.js';
import { textToOutlines } from '../text/outlines.js';

/** Colours by which layers are told apart where that is what a step is about. */
const BY_LAYER = [0x000000, 0x1c5470, 0x97351b, 0x7a6a2e, 0x5b4a7a, 0x3f6b4a];

/** Before and after a step on its own example, as pictures of one scale: what the step says is drawn by the step. */
export function examplePictures(step: OfferedStep, fonts: FontBook): { before: string; after: string } {
  const before = step.example.drawing();
  const after = runStep(before, plannedStep(step, 'example', step.example.params), { fonts }).drawing;
  const [a, b] = [before, after].map((d) => shown(d, fonts, step.group === 'layers'));
  const frame = new Box2();
  frame.addBox(boundsOf(a!));
  frame.addBox(boundsOf(b!));
  const [width, height] = [112, 64];
  return {
    before: previewSvg(a!, width, height, undefined, frame),
    after: previewSvg(b!, width, height, undefined, frame),
  };
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

import { because } from '../drawing/reasons.js';
import { derive } from '../drawing/derive.js';
import { PathBuilder } from '../geometry/path.js';
import type { PathData } from '../geometry/path.js';
import { NO_PAINT } from '../drawing/appearance.js';
import type { Block, Drawing } from '../drawing/drawing.js';
import type { Entity, Hatch, Path } from '../drawing/entity.js';
import { hasPattern, hatchLines } from '../drawing/hatch-area.js';
import type { StepContext } from './step.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketchPath } from './example.js';
import { defineStep } from './step.js';

/** Most dashes that one hatch is written as. */
const MOST_DASHES = 200_000;

/** Turns hatches into what receivers without hatches can hold. */
export const flattenHatches = defineStep({
  id: 'flatten-hatches',
  title: 'Flatten hatches',
  summary: 'Hatches become the lines of their pattern, plain fills, their outlines, or are left out.',
  carries: ['colour'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([
      {
        kind: 'hatch',
        loops: [{ path: sketchPath('M0 0H40V24H0Z'), flags: 3 }],
        solid: false,
        pattern: 'LINES',
        elevation: 0,
        angle: 0,
        scale: 1,
        lines: [{ angle: Math.PI / 4, base: [0, 0], step: [-3, 3], dashes: [] }],
      },
    ]),
  },
  params: {
    to: p.choice({
      title: 'Hatches become',
      default: 'lines',
      choices: {
        lines: 'Lines of their pattern',
        fills: 'Plain fills',
        outlines: 'Their outlines',
        nothing: 'Nothing',
      },
    }),
    which: p.choice({
      title: 'Which',
      default: 'patterns',
      choices: { patterns: 'Those with a pattern', all: 'Solid ones too' },
    }),
  },
  run(drawing, params, ctx) {
    const to = params.to;
    const all = params.which === 'all';
    let changed = 0;
    let nextId = drawing.nextId;
    const convert = (list: readonly Entity[]): Entity[] =>
      list.flatMap((e): Entity[] => {
        if (e.kind !== 'hatch' || (!all && !hasPattern(e))) return [e];
        if (to === 'fills' && !hasPattern(e)) return [e];
        changed++;
        const made = flattened(e, to, ctx, () => nextId++);
        if (to === 'nothing') ctx.lineage.remove(e, 'hatch-left-out');
        else if (to === 'lines' && hasPattern(e)) ctx.lineage.became(e, made, 'hatch-as-lines', 'part');
        else ctx.lineage.became(e, made, to === 'fills' ? 'hatch-as-fill' : 'hatch-as-outline', 'outline');
        return made;
      });
    const blocks = new Map<string, Block>();
    for (const [key, b] of drawing.blocks) blocks.set(key, { ...b, entities: convert(b.entities) });
    const made: Drawing = { ...drawing, entities: convert(drawing.entities), blocks, nextId };
    if (changed === 0) return drawing;
    const words = {
      lines: 'the lines of their pattern',
      fills: 'plain fills',
      outlines: 'their outlines',
      nothing: 'nothing: left out',
    }[to]!;
    ctx.ledger.add({
      carryOver: 'colour',
      action: to === 'nothing' ? 'dropped' : 'changed',
      onPurpose: true,
      reason: because('hatches-became', { what: words }),
      count: changed,
    });
    return { ...made, nextId };
  },
});

function flattened(e: Hatch, to: string, ctx: StepContext, newId: () => number): Entity[] {
  if (to === 'nothing') return [];
  if (to === 'fills') {
    const { lines: _l, gradient: _g, rest: _r, ...plain } = e;
    return [{ ...plain, solid: true, pattern: 'SOLID' }];
  }
  const { id, look } = e;
  // A hatch is painted with its own colour, whichever of the two it is given as.
  const stroke = look.stroke.kind === 'none' ? look.fill : look.stroke;
  const own = { ...look, stroke, fill: NO_PAINT };
  const make = (path: PathData, i: number): Path =>
    i === 0
      ? derive(e, 'whole', { kind: 'path', path, look: own })
      : derive(e, 'piece', { kind: 'path', path, look: own, id: newId() });
  if (to === 'lines' && hasPattern(e)) {
    const fill = hatchLines(e, MOST_DASHES)!;
    if (fill.tooDense) ctx.ledger.add({ carryOver: 'colour', action: 'approximated', reason: 'pattern-cut-short', id });
    const out = new PathBuilder();
    const s = fill.segments;
    for (let i = 0; i < s.length; i += 4) out.moveTo(s[i]!, s[i + 1]!).lineTo(s[i + 2]!, s[i + 3]!);
    return out.empty ? [] : [make(out.build(), 0)];
  }
  return e.loops.map((l, i) => make(l.path, i));
}

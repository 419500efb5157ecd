import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { noteFollowers } from '../drawing/followers.js';
import { because } from '../drawing/reasons.js';
import { transformDrawing } from '../drawing/transform.js';
import { compose, rotation, scaling, translation } from '../geometry/affine.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

/** Turns the whole drawing, mirrors it, or both. */
export const turnAndMirror = defineStep({
  id: 'turn-and-mirror',
  title: 'Turn and mirror',
  summary:
    'Turns the whole drawing about a point, mirrors it, or both; letters stay readable unless they are to be mirrored.',
  carries: ['origin', 'curves'],
  group: 'size',
  example: {
    drawing: exampleDrawing([sketch.chain([0, 0, 40, 0, 40, 10, 12, 10, 12, 24, 0, 24], true)]),
    params: { mirror: 'x', about: 'centre' },
  },
  params: {
    turn: p.angle({ title: 'Turn, anticlockwise', default: 0, atLeast: -360, atMost: 360 }),
    mirror: p.choice({
      title: 'Mirror',
      default: 'none',
      choices: { none: 'No', x: 'Left and right', y: 'Up and down' },
    }),
    about: p.choice({
      title: 'About',
      default: 'origin',
      choices: { origin: 'The origin', centre: 'The centre of the drawing', point: 'A point' },
    }),
    point: p.point({ when: { about: 'point' }, title: 'The point' }),
    letters: p.choice({
      title: 'Letters',
      default: 'readable',
      choices: { readable: 'Stay readable', mirrored: 'Are mirrored too' },
    }),
  },
  run(drawing, params, ctx) {
    if (params.turn % 360 === 0 && params.mirror === 'none') return drawing;
    let [x, y] = params.about === 'point' ? [params.point.x, params.point.y] : [0, 0];
    if (params.about === 'centre') {
      const box = boundsOf(drawing, { hidden: true });
      if (box.empty) return drawing;
      [x, y] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    }
    // Quarter turns are exact: their sines are whole numbers.
    const quarter = params.turn % 90 === 0 ? (((params.turn / 90) % 4) + 4) % 4 : null;
    const turn = quarter === null ? rotation((params.turn * Math.PI) / 180) : QUARTERS[quarter]!;
    const mirror = scaling(params.mirror === 'x' ? -1 : 1, params.mirror === 'y' ? -1 : 1, 1);
    const map = compose(translation(x, y), compose(turn, compose(mirror, translation(-x, -y))));
    ctx.ledger.add({
      carryOver: 'origin',
      action: 'changed',
      onPurpose: true,
      reason: because('turned-and-mirrored', {
        turn: params.turn,
        mirror: { none: 'not mirrored', x: 'left and right mirrored', y: 'up and down mirrored' }[params.mirror],
      }),
    });
    ctx.look(drawing.entities.length);
    ctx.lineage.move(map);
    const made = transformDrawing(drawing, map, noteFollowers(ctx.ledger));
    if (params.mirror === 'none' || params.letters === 'readable') return made;
    let count = 0;
    const back = (e: Entity): Entity => {
      if (e.kind !== 'text' || e.sheet !== undefined) return e;
      count++;
      return { ...e, backwards: !e.backwards };
    };
    const entities = made.entities.map(back);
    tellChange(ctx, 'text', count, 'letters-mirrored');
    const rich = made.entities.filter((e) => e.kind === 'richText' && e.sheet === undefined).length;
    if (rich > 0) ctx.leave('rich-text-not-mirrored', undefined, rich);
    return { ...made, entities } satisfies Drawing;
  },
});

const QUARTERS = [
  scaling(1, 1, 1),
  [0, 1, 0, -1, 0, 0, 0, 0, 1, 0, 0, 0],
  scaling(-1, -1, 1),
  [0, -1, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0],
] as const;

import type { Paint, Rgb } from '../drawing/appearance.js';
import { colourDifference } from '../drawing/colour-difference.js';
import { PALETTE, hex, nearestIndex } from '../drawing/palette.js';
import { because } from '../drawing/reasons.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { changeLooks, mappedLook, mappedPaint } from './looks.js';
import { defineStep } from './step.js';
import { tellChange } from './tell.js';

const rgbOf = (colour: string): Rgb => parseInt(colour.slice(1), 16);

/** Changes colours by a chart, or to the nearest of a list or of the drafting palette. */
export const mapColours = defineStep({
  id: 'map-colours',
  title: 'Map colours',
  summary:
    'Colours become others: by a chart, the nearest of a list, or the nearest index of drafting, with the difference told.',
  carries: ['colour'],
  group: 'look',
  example: {
    drawing: exampleDrawing([
      sketch.path('M0 0H24V24H0Z', { fill: { kind: 'rgb', rgb: 0xc4512d } }),
      sketch.path('M32 0H56V24H32Z', { fill: { kind: 'rgb', rgb: 0x2d6f7c } }),
    ]),
    params: {
      chart: [
        { from: '#c4512d', to: '#e0b978' },
        { from: '#2d6f7c', to: '#1d2530' },
      ],
    },
  },
  params: {
    by: p.choice({
      title: 'Colours become',
      default: 'chart',
      choices: { chart: 'What a chart says', list: 'The nearest of a list', index: 'The nearest drafting index' },
    }),
    chart: p.chart({
      when: { by: 'chart' },
      title: 'Chart',
      of: 'colour',
      columns: ['Colour', 'Becomes'],
      atMost: 500,
    }),
    list: p.list({
      when: { by: 'list' },
      title: 'Colours to choose from',
      item: p.colour({ title: 'Colour', default: '#000000' }),
      atMost: 300,
    }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    const chart = new Map([...params.chart].reverse().map((r) => [rgbOf(r.from), rgbOf(r.to)]));
    const list = params.list.map(rgbOf);
    if (params.by === 'chart' ? chart.size === 0 : params.by === 'list' && list.length === 0) return drawing;
    let farthest = { difference: 0, words: '' };
    const told = (from: Rgb, to: Rgb): void => {
      const difference = colourDifference(from, to);
      if (difference > farthest.difference) farthest = { difference, words: `${hex(from)} to ${hex(to)}` };
    };
    const to = (rgb: Rgb): Rgb | Paint => {
      if (params.by === 'chart') return chart.get(rgb) ?? rgb;
      if (params.by === 'index') {
        const index = nearestIndex(rgb);
        told(rgb, index === 7 ? 0 : PALETTE[index]!);
        return { kind: 'index', index };
      }
      const near = list.reduce((a, b) => (colourDifference(rgb, b) < colourDifference(rgb, a) ? b : a));
      told(rgb, near);
      return near;
    };
    const made = changeLooks(drawing, ctx, {
      which: params.which,
      look: (look, layer) => mappedLook(look, layer, to),
      layer: (l) => {
        const paint = mappedPaint(l.paint, to);
        return paint === l.paint ? l : { ...l, paint };
      },
    });
    const reason =
      farthest.difference > 0
        ? because('colours-to-nearest', { difference: farthest.difference.toFixed(1), which: farthest.words })
        : 'colours-mapped';
    tellChange(ctx, 'colour', made.count + made.layers, reason);
    return made.drawing;
  },
});

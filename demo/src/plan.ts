import type { Drawing } from '@scalaria/core';
import { DRAFTING_DEFAULT, emptyDrawing, newLayer } from '@scalaria/core';
import { dimensioned, entityOf, family, hatched, index, outline } from './drafting.js';

/**
 * Site and platform plan, drawn in millimetres and without saying so. One dimension was typed over; the street around it
 * is a reference that did not come along.
 */
export function plan(): Drawing {
  const d = emptyDrawing('dxf', '2004');
  d.linetypes = [
    { name: 'AXIS', description: 'Long dash, dot', pattern: [600, -150, 0, -150] },
    { name: 'EDGE', description: 'Dashes', pattern: [300, -200] },
  ];
  d.textStyles = [
    { name: 'Standard', font: 'Spline Sans.ttf', bigFont: '', fixedHeight: 0, widthFactor: 1, oblique: 0 },
  ];
  d.dimensionStyles = [
    { name: 'Standard', tags: [] },
    {
      name: 'KESTREL',
      tags: [
        [40, '1.0'],
        [41, '180.0'],
        [42, '120.0'],
        [44, '120.0'],
        [140, '250.0'],
        [147, '80.0'],
        [271, '0'],
        [277, '2'],
        [78, '8'],
      ],
    },
  ];
  d.layers = [
    newLayer('0'),
    { ...newLayer('PLATFORM', index(8)), weight: 0.5 },
    newLayer('PAVING', index(9)),
    { ...newLayer('TACTILE', index(32)), weight: 0.25 },
    { ...newLayer('TRACK', index(154)), weight: 0.35 },
    { ...newLayer('TRACK-AXIS', index(242)), linetype: 'AXIS' },
    { ...newLayer('SHELTER', index(142)), weight: 0.5 },
    newLayer('ROOF-ABOVE', index(14)),
    newLayer('FURNITURE', index(30)),
    newLayer('PLANTING', index(94)),
    newLayer('LIGHTING', index(42)),
    { ...newLayer('EXISTING-KERB', index(8)), off: true },
    { ...newLayer('SURVEY-1998', index(222)), frozen: true },
    newLayer('DIMENSIONS', index(134)),
    newLayer('NOTES'),
    newLayer('REFERENCES', index(252)),
  ];
  const put = (layer: string, e: object): void => void d.entities.push(entityOf(d, layer, e));
  const line = (x0: number, y0: number, x1: number, y1: number) => ({
    kind: 'line',
    start: [x0, y0, 0],
    end: [x1, y1, 0],
  });
  const circle = (x: number, y: number, radius: number) => ({ kind: 'circle', centre: [x, y, 0], radius });
  const text = (t: string, x: number, y: number, size: number, more: object = {}) => ({
    kind: 'text',
    text: t,
    at: [x, y, 0],
    size,
    sizeOf: 'capital',
    rotation: 0,
    widthFactor: 1,
    oblique: 0,
    horizontal: 'left',
    vertical: 'baseline',
    style: 'Standard',
    ...more,
  });
  const insert = (block: string, x: number, y: number, more: object = {}) => ({
    kind: 'insert',
    block,
    at: [x, y, 0],
    scale: [1, 1, 1],
    rotation: 0,
    columns: 1,
    rows: 1,
    columnSpacing: 0,
    rowSpacing: 0,
    attributes: [],
    ...more,
  });
  const block = (name: string, entities: [string, object][], more: object = {}): void =>
    void d.blocks.set(name.toLowerCase(), {
      name,
      base: [0, 0, 0],
      entities: entities.map(([layer, e]) => entityOf(d, layer, e)),
      ...more,
    });

  block('TREE', [
    ['0', circle(0, 0, 1400)],
    ['0', circle(0, 0, 120)],
    ...[0, 1, 2, 3, 4, 5].map((k): [string, object] => {
      const a = (k * Math.PI) / 3;
      return ['0', line(300 * Math.cos(a), 300 * Math.sin(a), 1200 * Math.cos(a), 1200 * Math.sin(a))];
    }),
  ]);
  block('BENCH', [
    ['0', outline([-900, -225, 900, -225, 900, 225, -900, 225])],
    ...[-75, 75].map((y): [string, object] => ['0', line(-900, y, 900, y)]),
  ]);
  block('LAMP', [
    ['0', circle(0, 0, 90)],
    ['0', circle(0, 0, 45)],
    ['0', text('L-00', 140, 90, 180, { tag: 'NO', hidden: false, definition: { prompt: 'Number', constant: false } })],
  ]);
  block('POST', [
    ['0', outline([-40, -40, 40, -40, 40, 40, -40, 40])],
    ['0', hatched([-40, -40, 40, -40, 40, 40, -40, 40], 'SOLID')],
  ]);
  block('STREET', [], { reference: 'kestrel-row-street.dwg' });
  put('REFERENCES', insert('STREET', 0, 0));

  // Two platforms with their edges, paving and tactile strips; rails between them.
  const platform = (y0: number, y1: number, edge: number): void => {
    // Ramps at both ends: an arc joins the back edge.
    put('PLATFORM', outline([0, y0, 30000, y0, 32000, y1, -2000, y1], true, [0, 0.15, 0, 0.15]));
    put('PAVING', hatched([0, y0, 30000, y0, 30000, y1, 0, y1], 'KESTREL-PAVING', [family(0, 600), family(90, 600)]));
    const inner = edge + (edge === y0 ? 300 : -300) * (y0 < y1 ? 1 : -1);
    put('TACTILE', outline([200, inner, 29800, inner], false));
    put(
      'TACTILE',
      outline(
        [
          200,
          inner + (edge === y0 ? 300 : -300) * (y0 < y1 ? 1 : -1),
          29800,
          inner + (edge === y0 ? 300 : -300) * (y0 < y1 ? 1 : -1),
        ],
        false,
      ),
    );
  };
  platform(0, 3200, 0);
  platform(-6400, -9600, -6400);
  for (const axis of [-1650, -4750]) {
    put('TRACK-AXIS', line(-6000, axis, 36000, axis));
    for (const side of [-1, 1]) {
      put('TRACK', line(-6000, axis + side * 717.5, 36000, axis + side * 717.5));
      put('TRACK', line(-6000, axis + side * 787.5, 36000, axis + side * 787.5));
    }
  }
  // The track bends away at the east end, as an arc and a spline.
  put('TRACK-AXIS', {
    kind: 'arc',
    centre: [36000, 28350, 0],
    radius: 30000,
    start: 1.5 * Math.PI,
    end: 1.7 * Math.PI,
  });
  put('TRACK-AXIS', {
    kind: 'spline',
    degree: 3,
    knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
    points: Float64Array.of(36000, -4750, 0, 42000, -4750, 0, 48000, -3900, 0, 53500, -1900, 0),
    closed: false,
    periodic: false,
  });

  // The shelter: posts on a grid, glazing, roof above.
  for (let k = 0; k < 4; k++) for (const y of [1000, 2600]) put('SHELTER', insert('POST', 9000 + 4000 * k, y));
  put('SHELTER', outline([9000, 2640, 21000, 2640, 21000, 2652, 9000, 2652]));
  put('SHELTER', outline([8988, 1000, 8988, 2640, 9000, 2640, 9000, 1000]));
  put('ROOF-ABOVE', {
    ...outline([8400, 300, 21600, 300, 21600, 3000, 8400, 3000]),
    look: { ...DRAFTING_DEFAULT, dash: { kind: 'linetype', name: 'EDGE', scale: 1 } },
  });
  put('ROOF-ABOVE', {
    kind: 'ellipse',
    centre: [15000, 1650, 0],
    major: [5200, 0, 0],
    ratio: 0.2,
    start: 0,
    end: 2 * Math.PI,
  });
  for (const x of [11000, 15000, 19000]) put('FURNITURE', insert('BENCH', x, 2250));
  put('FURNITURE', insert('BENCH', 15000, -8900, { rotation: Math.PI, columns: 3, columnSpacing: 4000 }));
  for (let k = 0; k < 5; k++)
    put(
      'PLANTING',
      insert('TREE', 2000 + 6500 * k, 5200, { scale: [1, 1, 1].map(() => 0.8 + 0.1 * (k % 3)), rotation: k / 3 }),
    );
  for (let k = 0; k < 4; k++) {
    const [x, y] = [3000 + 8000 * k, 2900];
    const no = `L-0${k + 1}`;
    const attribute = entityOf(d, 'LIGHTING', text(no, x + 140, y + 90, 180, { tag: 'NO', hidden: false }));
    put('LIGHTING', insert('LAMP', x, y, { attributes: [attribute] }));
  }
  // What was there before, switched off and frozen.
  put('EXISTING-KERB', outline([-6000, 4100, 12000, 4150, 36000, 4020], false));
  for (let k = 0; k < 60; k++) {
    const [x, y] = [-5000 + 690 * k, 3600 + 900 * Math.sin(k / 4)];
    put('SURVEY-1998', { kind: 'point', at: [x, y, 100 + 3 * k] });
    put('SURVEY-1998', text((100 + 0.003 * k).toFixed(3), x + 60, y + 60, 120));
  }

  // Dimensions: one typed over.
  const dimension = (...how: Parameters<typeof dimensioned>): void => put('DIMENSIONS', dimensioned(...how));
  dimension('linear', { 10: [30000, -11200, 0], 13: [0, -9600, 0], 14: [30000, -9600, 0] });
  dimension('linear', { 10: [-3200, 3200, 0], 13: [-2000, 0, 0], 14: [-2000, 3200, 0] }, { rotation: Math.PI / 2 });
  dimension(
    'linear',
    { 10: [-3200, 0, 0], 13: [0, -6400, 0], 14: [0, 0, 0] },
    { rotation: Math.PI / 2, override: '6350' },
  );
  for (let k = 0; k < 3; k++)
    dimension('linear', {
      10: [13000 + 4000 * k, 3700, 0],
      13: [9000 + 4000 * k, 2600, 0],
      14: [13000 + 4000 * k, 2600, 0],
    });
  dimension('aligned', { 10: [32400, 1700, 0], 13: [30000, 0, 0], 14: [32000, 3200, 0] });

  // Notes, with the signs that get lost.
  put('NOTES', text('Kestrel Row – quai vers le marché', 600, 1500, 400));
  put('NOTES', text('Platform edge ±0.00, fall 2 % ≈ 1.1°', 600, 900, 250));
  put('NOTES', text('Posts Ø80, 4 m grid', 21300, 3300, 250));
  put('NOTES', {
    kind: 'richText',
    content: '{\\H1.4x;Abri vitré}\\PToughened glass 12 mm\\Proof 13.2 × 2.7 m',
    plain: 'Abri vitré\nToughened glass 12 mm\nroof 13.2 × 2.7 m',
    at: [22600, 2600, 0],
    size: 250,
    width: 6000,
    rotation: 0,
    horizontal: 'left',
    vertical: 'top',
    lineSpacing: 1,
    style: 'Standard',
  });
  put('NOTES', {
    kind: 'leader',
    points: Float64Array.of(21000, 1650, 0, 22200, 2200, 0, 22500, 2200, 0),
    arrow: true,
    curved: false,
    style: 'KESTREL',
  });
  // North, 12° west of the sheet's top.
  put('NOTES', circle(40000, 6000, 900));
  put('NOTES', {
    kind: 'face',
    solid: true,
    look: { ...DRAFTING_DEFAULT, stroke: { kind: 'none' }, fill: { kind: 'byLayer' } },
    corners: [
      [39632, 7730, 0],
      [39600, 5915, 0],
      [40374, 6080, 0],
    ],
  });
  put('NOTES', text('N', 39450, 7900, 400));
  return d;
}

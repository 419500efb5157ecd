import type { Drawing, PatternLine } from '@scalaria/core';
import { emptyDrawing, newLayer } from '@scalaria/core';
import { dimensioned, entityOf, family, hatched, index, outline } from './drafting.js';

/** Cross section of the shelter through its second post, in millimetres, with a sheet at 1:50. */
export function section(): Drawing {
  const d = emptyDrawing('dxf', '2018');
  d.unit = { unit: 'mm', factor: 1 };
  d.linetypes = [
    { name: 'AXIS', description: 'Long dash, dot', pattern: [240, -60, 0, -60] },
    { name: 'HIDDEN', description: 'Short dashes', pattern: [60, -40] },
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
        [41, '60.0'],
        [42, '40.0'],
        [44, '40.0'],
        [140, '80.0'],
        [147, '25.0'],
        [271, '0'],
        [277, '2'],
        [78, '8'],
      ],
    },
  ];
  d.layers = [
    newLayer('0'),
    { ...newLayer('CONCRETE', index(8)), weight: 0.5 },
    newLayer('CONCRETE-FILL', index(9)),
    { ...newLayer('STEEL', index(154)), weight: 0.5 },
    { ...newLayer('GLAZING', index(142)), weight: 0.25 },
    { ...newLayer('ROOF', index(14)), weight: 0.5 },
    newLayer('GROUND', index(34)),
    { ...newLayer('AXES', index(242)), linetype: 'AXIS' },
    { ...newLayer('HIDDEN', index(8)), linetype: 'HIDDEN' },
    newLayer('DIMENSIONS', index(134)),
    newLayer('NOTES'),
    { ...newLayer('WINDOWS', index(8)), plotted: false },
    newLayer('FRAME'),
  ];
  const put = (layer: string, e: object, sheet?: string): void =>
    void d.entities.push(entityOf(d, layer, { ...(sheet !== undefined && { sheet }), ...e }));
  const hatch = (layer: string, points: number[], pattern: string, lines?: PatternLine[]): void =>
    put(layer, hatched(points, pattern, lines));
  const dimension = (...how: Parameters<typeof dimensioned>): void => put('DIMENSIONS', dimensioned(...how));
  const note = (content: string, at: [number, number], size: number, width: number, sheet?: string): void =>
    put(
      'NOTES',
      {
        kind: 'richText',
        content,
        plain: content,
        at: [...at, 0],
        size,
        width,
        rotation: 0,
        horizontal: 'left',
        vertical: 'top',
        lineSpacing: 1,
        style: 'Standard',
      },
      sheet,
    );

  // Ground, footing and platform.
  const footing = [-350, -900, 350, -900, 350, -250, 120, -250, 120, -120, -120, -120, -120, -250, -350, -250];
  hatch('CONCRETE-FILL', footing, 'KESTREL-CONCRETE', [family(45, 70, [60, -50]), family(135, 110, [30, -90])]);
  put('CONCRETE', outline(footing));
  const slab = [120, -250, 2600, -250, 2600, -120, 120, -120];
  hatch('CONCRETE-FILL', slab, 'KESTREL-SLAB', [family(45, 55)]);
  put('CONCRETE', outline(slab));
  put('GROUND', outline([-1600, -120, -120, -120], false));
  hatch('GROUND', [-1600, -120, -350, -120, -350, -200, -1600, -200], 'SOLID');
  // Post, beam, bench and glazing.
  put('STEEL', outline([-40, -120, 40, -120, 40, 2350, -40, 2350]));
  put('STEEL', outline([-110, -132, 110, -132, 110, -120, -110, -120]));
  put('STEEL', {
    kind: 'polyline',
    points: Float64Array.of(-700, 2350, 1900, 2350, 1900, 2430, -700, 2430),
    dim: 2,
    elevation: 0,
    closed: true,
  });
  put('GLAZING', outline([52, 250, 64, 250, 64, 2100, 52, 2100]));
  put('STEEL', { ...outline([64, 450, 520, 450], false), widths: Float64Array.of(40, 40, 40, 40) });
  put('HIDDEN', outline([520, 430, 520, -120], false));
  put('AXES', { kind: 'line', start: [0, -1050, 0], end: [0, 3050, 0] });
  put('AXES', { kind: 'line', start: [-900, 2390, 0], end: [2100, 2390, 0] });
  put('ROOF', {
    kind: 'spline',
    degree: 3,
    knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
    points: Float64Array.of(-760, 2430, 0, 0, 2760, 0, 1200, 2660, 0, 1960, 2500, 0),
    closed: false,
    periodic: false,
  });
  put('ROOF', {
    kind: 'spline',
    degree: 3,
    knots: Float64Array.of(0, 0, 0, 0, 1, 1, 1, 1),
    points: Float64Array.of(-760, 2460, 0, 0, 2800, 0, 1200, 2700, 0, 1960, 2540, 0),
    closed: false,
    periodic: false,
  });
  put('STEEL', { kind: 'circle', centre: [0, 2390, 0], radius: 30 });
  // Dimensions: one typed over, one rounded, one angle, one radius.
  dimension('linear', { 10: [-1250, 2350, 0], 13: [-110, -120, 0], 14: [-700, 2350, 0] }, { rotation: Math.PI / 2 });
  dimension(
    'linear',
    { 10: [-900, 250, 0], 13: [-40, -120, 0], 14: [52, 250, 0] },
    { rotation: Math.PI / 2, override: '400' },
  );
  dimension('linear', { 10: [1900, 3120, 0], 13: [-700, 2430, 0], 14: [1900, 2430, 0] });
  dimension('linear', { 10: [350, -1150, 0], 13: [-350, -900, 0], 14: [350, -900, 0] }, { override: '<> Ø16' });
  dimension('radius', { 10: [0, 2390, 0], 15: [21.2132034355964, 2411.2132034355964, 0] });
  // Notes with their leaders.
  put('NOTES', {
    kind: 'leader',
    points: Float64Array.of(58, 1500, 0, 500, 1750, 0, 640, 1750, 0),
    arrow: true,
    curved: false,
    style: 'KESTREL',
  });
  note('{\\LGlazing}\\PToughened, 12 mm\\P{\\C1;check edge \\S1/2; mm}', [680, 1800], 80, 1100);
  put('NOTES', {
    kind: 'leader',
    points: Float64Array.of(300, -600, 0, 900, -560, 0, 1060, -560, 0),
    arrow: true,
    curved: false,
    style: 'KESTREL',
  });
  note('{\\H1.2x;Footing} C25/30\\Pon 100 mm blinding, top %%p0.00', [1100, -480], 80, 1500);

  // A sheet at 1:50 on A3.
  d.sheets = [
    {
      name: 'Section 1-50',
      block: '*Paper_Space',
      order: 1,
      unitsPerMm: 1,
      paper: { width: 420, height: 297, marginLeft: 0, marginBottom: 0 },
    },
  ];
  const onSheet = (layer: string, e: object): void => put(layer, e, 'Section 1-50');
  const view = {
    kind: 'viewport',
    on: true,
    target: [0, 0, 0],
    direction: [0, 0, 1],
    twist: 0,
    frozen: [] as string[],
  };
  onSheet('FRAME', outline([10, 10, 410, 10, 410, 287, 10, 287]));
  onSheet('FRAME', outline([250, 10, 410, 10, 410, 50, 250, 50]));
  onSheet('WINDOWS', {
    ...view,
    at: [125, 150, 0],
    width: 210,
    height: 240,
    number: 2,
    centre: [450, 1000],
    viewHeight: 5200,
  });
  onSheet('WINDOWS', {
    ...view,
    at: [325, 180, 0],
    width: 140,
    height: 120,
    number: 3,
    centre: [100, 2390],
    viewHeight: 900,
    frozen: ['DIMENSIONS'],
  });
  note('{\\H1.6x;Kestrel Row tram stop}\\PSection through post 2, 1:50 and 1:7.5', [255, 45], 4, 150, 'Section 1-50');
  return d;
}

import type { LayerRow } from './dxf-text.js';
import { DxfText, dxfFile } from './dxf-text.js';

const LAYERS: LayerRow[] = [
  { name: '0', colour: 7 },
  { name: 'GROUND', colour: 34 },
  { name: 'POSTS', colour: 154 },
  { name: 'GLAZING', colour: 142 },
  { name: 'ROOF', colour: 14 },
  { name: 'FIXINGS', colour: 8 },
  { name: 'SIGN', colour: 30 },
  { name: 'AXES', colour: 242, linetype: 'AXIS' },
  { name: 'TEXT', colour: 7 },
  { name: 'SETTING-OUT', colour: 134, off: true },
  { name: 'SURVEY 2019', colour: 222, frozen: true },
];

/** A glass clamp of 60 × 60 with its bolt, itself a block: inserts two deep. */
function blocks(): Record<string, DxfText> {
  const bolt = new DxfText(0x1000).circle('0', 0, 0, 9).polyline(
    '0',
    [
      [-5.2, 3],
      [-5.2, -3],
      [0, -6],
      [5.2, -3],
      [5.2, 3],
      [0, 6],
    ],
    true,
  );
  const clamp = new DxfText(0x1100)
    .polyline(
      '0',
      [
        [-30, -22, 0],
        [-22, -30, 0],
        [22, -30, 0],
        [30, -22, 0],
        [30, 22, 0],
        [22, 30, 0],
        [-22, 30, 0],
        [-30, 22, 0],
      ],
      true,
    )
    .insert('0', 'BOLT', 0, 0);
  return { BOLT: bolt, 'GLASS-CLAMP': clamp };
}

/** Front elevation of the shelter: 7200 wide between outer posts, in millimetres. */
export function frontElevation(): string {
  const d = new DxfText();
  const posts = [0, 2400, 4800, 7200];
  d.solidHatch(
    'GROUND',
    [
      [-900, -180],
      [8100, -180],
      [8100, 0],
      [-900, 0],
    ],
    34,
  );
  d.line('GROUND', -900, 0, 8100, 0);
  for (const x of posts) {
    d.rectangle('POSTS', x - 40, 0, 80, 2350);
    d.rectangle('POSTS', x - 110, -12, 220, 12);
    d.line('AXES', x, -350, x, 2950);
    d.circle('AXES', x, 3070, 120);
    d.text('TEXT', x, 3030, 90, String(posts.indexOf(x) + 1), 1);
  }
  for (const x of posts.slice(0, -1)) {
    // The last bay is an opening; it lies 35 mm off the plan on purpose.
    const opening = x === 4800;
    const left = x + 90 + (opening ? 35 : 0);
    d.polyline(
      'GLAZING',
      [
        [left + 40, 250, 0],
        [left + 2180, 250, 0.4142135623730951],
        [left + 2220, 290, 0],
        [left + 2220, 2060, 0.4142135623730951],
        [left + 2180, 2100, 0],
        [left + 40, 2100, 0.4142135623730951],
        [left, 2060, 0],
        [left, 290, 0.4142135623730951],
      ],
      true,
    );
    if (opening) d.line('GLAZING', left, 250, left + 2220, 2100).line('GLAZING', left, 2100, left + 2220, 250);
    else
      for (const y of [500, 1850])
        d.insert('FIXINGS', 'GLASS-CLAMP', x + 50, y).insert('FIXINGS', 'GLASS-CLAMP', x + 2350, y);
  }
  // A shallow arched roof: chord 8400, rise 260.
  const bulge = (2 * 260) / 8400;
  d.polyline(
    'ROOF',
    [
      [-600, 2350, 0],
      [7800, 2350, 0],
      [7800, 2430, bulge],
      [-600, 2430, 0],
    ],
    true,
  );
  d.spline('ROOF', [
    [-600, 2500],
    [900, 2760],
    [2400, 2700],
    [4800, 2700],
    [6300, 2760],
    [7800, 2500],
  ]);
  d.rectangle('SIGN', 2900, 2130, 1400, 200, 30);
  d.text('SIGN', 3600, 2185, 90, 'KESTREL ROW', 1);
  d.ellipse('SIGN', 3050, 2230, 55, 0, 0.6);
  d.text('TEXT', -900, -420, 110, 'Front elevation, glass 12 mm %%p0.2, fall 2%%d');
  d.text('TEXT', 8100, -420, 80, 'Façade côté quai', 2);
  for (const x of posts) d.line('SETTING-OUT', x, 0, x, 2350).circle('SETTING-OUT', x, 0, 25);
  d.rectangle('SURVEY 2019', -1400, -260, 10000, 3600).text('SURVEY 2019', -1380, 3200, 120, 'old kerb line');
  return dxfFile(4, LAYERS, blocks(), d);
}

/** Side elevation: 1800 deep, in millimetres, on the same ground line. */
export function sideElevation(): string {
  const d = new DxfText();
  d.solidHatch(
    'GROUND',
    [
      [-700, -180],
      [2600, -180],
      [2600, 0],
      [-700, 0],
    ],
    34,
  );
  d.line('GROUND', -700, 0, 2600, 0);
  d.rectangle('POSTS', 110, 0, 80, 2350);
  d.rectangle('POSTS', 40, -12, 220, 12);
  d.line('AXES', 150, -350, 150, 2950);
  d.rectangle('GLAZING', 190, 250, 1500, 1850);
  for (const y of [500, 1850])
    d.insert('FIXINGS', 'GLASS-CLAMP', 160, y).insert('FIXINGS', 'GLASS-CLAMP', 1690, y, 1, 90);
  d.polyline(
    'ROOF',
    [
      [-350, 2430, 0],
      [2150, 2560, 0],
      [2150, 2640, 0],
      [-350, 2510, 0],
    ],
    true,
  );
  d.arc('ROOF', 150, 2350, 220, 0, 90);
  d.rectangle('POSTS', 420, 430, 420, 45).rectangle('POSTS', 470, 0, 40, 430).rectangle('POSTS', 750, 0, 40, 430);
  d.text('TEXT', -700, -420, 110, 'Side elevation, fall 3%%d to the gutter');
  d.line('SETTING-OUT', 150, 0, 150, 2350);
  return dxfFile(4, LAYERS, blocks(), d);
}

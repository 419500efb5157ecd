import { DxfText, dxfFile } from './dxf-text.js';

type Vertex = [number, number, number?];

/** A hole as some programs leave it: 64 chords. */
const chordCircle = (x: number, y: number, r: number): Vertex[] =>
  Array.from({ length: 64 }, (_, i) => [x + r * Math.cos((i * Math.PI) / 32), y + r * Math.sin((i * Math.PI) / 32)]);

/**
 * The perforated screen behind the bench: panels of two materials and three thicknesses, as they come before anybody has
 * made them ready for a cutter. Loose lines and arcs, ends that miss each other, doubles, overlaps, holes of chords, and
 * neighbours that do not share their points.
 */
export function screenPanels(): string {
  const d = new DxfText();
  // P1: loose lines and quarter arcs, in no order, running anyhow.
  const loose = (layer: string, x: number, y: number, w: number, h: number, r: number): void => {
    d.line(layer, x + w - r, y, x + r, y).arc(layer, x + w - r, y + h - r, r, 0, 90);
    d.line(layer, x + w, y + r, x + w, y + h - r).arc(layer, x + r, y + r, r, 180, 270);
    d.line(layer, x + w - r, y + h, x + r, y + h).arc(layer, x + w - r, y + r, r, 270, 360);
    d.line(layer, x, y + r, x, y + h - r).arc(layer, x + r, y + h - r, r, 90, 180);
  };
  const holes = (layer: string, x: number, y: number, columns: number, rows: number): void => {
    for (let i = 0; i < columns; i++)
      for (let k = 0; k < rows; k++)
        d.polyline(layer, chordCircle(x + 60 * i, y + 60 * k, 12 + 2 * ((i + k) % 3)), true);
  };
  loose('PLY-12', 0, 0, 600, 400, 24);
  holes('PLY-12', 90, 80, 8, 5);
  d.text('NUMBERS', 280, 186, 24, 'P1');
  // P2: an outline that does not close by 0.4, and two sides drawn twice.
  d.polyline(
    'PLY-18',
    [
      [700, 0],
      [1300, 0],
      [1300, 400],
      [700, 400],
      [700, 0.4],
    ],
    false,
  );
  d.line('PLY-18', 700, 0, 1300, 0).line('PLY-18', 1300, 400, 1300, 0);
  holes('PLY-18', 790, 80, 8, 5);
  d.text('NUMBERS', 980, 186, 24, 'P2');
  // P3: sides that overlap, overshoot and stop short of their corners.
  d.line('PLY-6', 0, 500, 380, 500).line('PLY-6', 340, 500, 603, 500);
  d.line('PLY-6', 600, 497.5, 600, 902).line('PLY-6', 598, 900, 0, 900).line('PLY-6', 0, 902, 0, 498);
  d.text('NUMBERS', 280, 686, 24, 'P3');
  // P4 to P6: three steel panels with common edges, a point missing here, 0.02 of air there.
  d.polyline(
    'STEEL-6',
    [
      [700, 500],
      [1300, 500],
      [1300, 700],
      [700, 700],
    ],
    true,
  );
  d.polyline(
    'STEEL-6',
    [
      [700, 700.02],
      [1000, 700.02],
      [1000, 900],
      [700, 900],
    ],
    true,
  );
  d.polyline(
    'STEEL-6',
    [
      [1000, 700],
      [1300, 700],
      [1300, 900],
      [1000, 900],
    ],
    true,
  );
  d.text('NUMBERS', 980, 586, 24, 'P4').text('NUMBERS', 830, 786, 24, 'P5').text('NUMBERS', 1130, 786, 24, 'P6');
  // A traced edge with far more points than it needs.
  const wave: Vertex[] = Array.from({ length: 400 }, (_, i) => [
    700 + 1.5 * i,
    960 + 18 * Math.sin(i / 40) + 0.004 * ((i * 7) % 5),
  ]);
  d.polyline('STEEL-6', wave, false);
  // Something forgotten far outside.
  d.circle('GUIDES', 26000, 9000, 40);
  const layers = [
    { name: '0', colour: 7 },
    { name: 'PLY-6', colour: 34 },
    { name: 'PLY-12', colour: 32 },
    { name: 'PLY-18', colour: 36 },
    { name: 'STEEL-6', colour: 152 },
    { name: 'NUMBERS', colour: 7 },
    { name: 'GUIDES', colour: 8 },
  ];
  return dxfFile(4, layers, {}, d);
}

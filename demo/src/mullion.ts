import { DxfText, dxfFile } from './dxf-text.js';

/** The aluminium mullion: 4 × 2 in hollow section, wall 1/8 in, rounded corners, two screw ports. In inches. */
export function mullion(): string {
  const d = new DxfText();
  const q = Math.tan(Math.PI / 8);
  const rounded = (x: number, y: number, w: number, h: number, r: number): [number, number, number][] => [
    [x + r, y, 0],
    [x + w - r, y, q],
    [x + w, y + r, 0],
    [x + w, y + h - r, q],
    [x + w - r, y + h, 0],
    [x + r, y + h, q],
    [x, y + h - r, 0],
    [x, y + r, q],
  ];
  d.polyline('PROFILE', rounded(0, 0, 4, 2, 0.1875), true);
  d.polyline('PROFILE', rounded(0.125, 0.125, 2.4375, 1.75, 0.0625), true);
  d.polyline('PROFILE', rounded(2.6875, 0.125, 1.1875, 1.75, 0.0625), true);
  // Screw ports: three quarters of a ring, open to the chamber.
  for (const y of [0.4375, 1.5625]) {
    d.arc('PORTS', 3.5, y, 0.15625, 45, 315);
    d.arc('PORTS', 3.5, y, 0.09375, 45, 315);
    for (const a of [45, 315]) {
      const [c, s] = [Math.cos((a * Math.PI) / 180), Math.sin((a * Math.PI) / 180)];
      d.line('PORTS', 3.5 + 0.09375 * c, y + 0.09375 * s, 3.5 + 0.15625 * c, y + 0.15625 * s);
    }
  }
  d.circle('GASKET', -0.0625, 1, 0.0625);
  d.line('AXES', -0.5, 1, 4.5, 1).line('AXES', 2, -0.5, 2, 2.5);
  d.text('TEXT', 0, -0.6, 0.15, 'Mullion KR-M2, wall 1/8 in');
  const layers = [
    { name: '0', colour: 7 },
    { name: 'PROFILE', colour: 5 },
    { name: 'PORTS', colour: 3 },
    { name: 'GASKET', colour: 30 },
    { name: 'AXES', colour: 1 },
    { name: 'TEXT', colour: 7 },
  ];
  return dxfFile(1, layers, {}, d);
}

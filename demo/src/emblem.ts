/** Numbers between 0 and 1 that are the same each time. */
function dice(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

const n = (v: number): string => String(Number(v.toFixed(3)));

/** A circle as drawing programs write it: four cubics. */
function fourCubics(x: number, y: number, r: number): string {
  const k = 0.5522847498 * r;
  return `M${n(x + r)} ${n(y)}C${n(x + r)} ${n(y + k)} ${n(x + k)} ${n(y + r)} ${n(x)} ${n(y + r)}S${n(x - r)} ${n(y + k)} ${n(x - r)} ${n(y)}S${n(x - k)} ${n(y - r)} ${n(x)} ${n(y - r)}S${n(x + r)} ${n(y - k)} ${n(x + r)} ${n(y)}Z`;
}

/** A brushed stroke, expanded to a shape: hundreds of points along both edges of a line, a little uneven. */
function brushed(seed: number, width: number, along: (t: number) => [number, number], points: number): string {
  const roll = dice(seed);
  const at = (t: number, side: 1 | -1): string => {
    const [x, y] = along(t);
    const [x1, y1] = along(t + 1e-4);
    const l = Math.hypot(x1 - x, y1 - y);
    const half = (side * (width * (1 + 0.08 * Math.sin(9 * t)) + 0.05 * (roll() - 0.5))) / 2;
    return `${n(x - ((y1 - y) / l) * half)} ${n(y + ((x1 - x) / l) * half)}`;
  };
  const edge = Array.from({ length: points }, (_, i) => i / (points - 1));
  return `M${edge.map((t) => at(t, 1)).join('L')}L${[...edge]
    .reverse()
    .map((t) => at(t, -1))
    .join('L')}Z`;
}

/** The emblem of the route: artwork in pixels, as it comes from a graphics studio. */
export function emblem(): string {
  const swoosh = brushed(7, 9, (t) => [60 + 200 * t, 190 - 60 * Math.sin(Math.PI * t)], 180);
  const tail = brushed(11, 6, (t) => [90 + 150 * t, 214 - 26 * Math.sin(2 * Math.PI * t)], 170);
  const rail = brushed(13, 4, (t) => [60 + 200 * t, 250], 40);
  const letter = (x: number, d: string): string => `<path transform="translate(${x} 300)" d="${d}" fill="#1f2a37"/>`;
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 320 360">
  <title>Kestrel Row, route emblem</title>
  <defs><linearGradient id="dawn" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#f2b632"/><stop offset="1" stop-color="#c4512d"/></linearGradient></defs>
  <g id="Group 12">
    <g id="emblem">
      <g>
        <g id="disc">
          <path d="${fourCubics(160, 150, 120)}" fill="url(#dawn)"/>
          <path d="${fourCubics(160, 150, 104)}" fill="none" stroke="#1f2a37" stroke-width="3"/>
          <path d="${fourCubics(160, 110, 22)}" fill="#fbf8f1"/>
        </g>
        <g id="wing">
          <path d="${swoosh}" fill="#1f2a37"/>
          <path d="${tail}" fill="#1f2b38"/>
          <path d="${rail}" fill="#1f2a37"/>
        </g>
      </g>
      <g id="letters">
        <g id="Group 3">
          ${letter(96, 'M0 0H8V14L20 0H30L15 17L31 40H21L10 24L8 26V40H0Z')}
          ${letter(140, 'M0 0H16C30 0 30 22 17 23L30 40H20L8 24V40H0Z')}
          ${letter(186, 'M0 0H8V40H0Z')}
          ${letter(206, 'M0 14L14 0H22V40H14V12L5 21Z')}
        </g>
      </g>
      <g id="Group 7"/>
    </g>
  </g>
</svg>
`;
}

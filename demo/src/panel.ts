/** The wayfinding panel: 600 × 900 mm, nested named groups, class styles, a gradient, a pattern, a clip, text on a path. */
export function panel(): string {
  const stops = ['Orchard Gate', 'Kestrel Row', 'Lower Weir', 'Tannery Square', 'Harbour Steps'];
  const rows = stops
    .map((name, i) => {
      const y = 330 + i * 84;
      const here = name === 'Kestrel Row';
      return `      <g id="stop-${i + 1}"><title>${name}</title>
        <circle class="${here ? 'here' : 'stop'}" cx="120" cy="${y}" r="${here ? 22 : 15}"/>
        <text class="name" x="170" y="${y + 13}">${name}</text>
      </g>`;
    })
    .join('\n');
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.1" width="600mm" height="900mm" viewBox="0 0 600 900">
  <title>Kestrel Row wayfinding panel</title>
  <defs>
    <style>
      .ground { fill: #f6f1e4 }
      .line { fill: none; stroke: #c4512d; stroke-width: 14; stroke-linecap: round }
      .stop { fill: #f6f1e4; stroke: #c4512d; stroke-width: 7 }
      .here { fill: #c4512d; stroke: #1f2a37; stroke-width: 7 }
      .name { font-family: 'Spline Sans', sans-serif; font-size: 40px; fill: #1f2a37 }
      #title .big { font-size: 72px; font-weight: 700; fill: #f6f1e4 }
    </style>
    <linearGradient id="dusk" x1="0" y1="0" x2="0" y2="1">
      <stop offset="0" stop-color="#23405c"/>
      <stop offset="1" stop-color="#1f2a37"/>
    </linearGradient>
    <clipPath id="window"><rect x="40" y="730" width="520" height="130" rx="12"/></clipPath>
    <pattern id="grass" width="14" height="14" patternUnits="userSpaceOnUse">
      <rect width="14" height="14" fill="#9db58a"/>
      <path d="M3 11L5 5M9 9L12 4" stroke="#4f6b45" stroke-width="1.6"/>
    </pattern>
    <path id="sweep" d="M60 302 A 480 480 0 0 1 540 302"/>
  </defs>
  <g id="board">
    <title>Board</title>
    <rect class="ground" width="600" height="900" rx="18"/>
    <path d="M18 0H582A18 18 0 0 1 600 18V200H0V18A18 18 0 0 1 18 0Z" fill="url(#dusk)"/>
    <circle cx="40" cy="40" r="5.5" fill="none" stroke="#1f2a37"/>
    <circle cx="560" cy="40" r="5.5" fill="none" stroke="#1f2a37"/>
    <circle cx="40" cy="860" r="5.5" fill="none" stroke="#1f2a37"/>
    <circle cx="560" cy="860" r="5.5" fill="none" stroke="#1f2a37"/>
  </g>
  <g id="title">
    <title>Title</title>
    <text class="name big" x="300" y="128" text-anchor="middle">Kestrel Row</text>
    <text class="name" font-style="italic" style="font-size:26px"><textPath xlink:href="#sweep">trams towards the harbour</textPath></text>
  </g>
  <g id="route">
    <title>Route</title>
    <path class="line" d="M120 330 V666"/>
    <g id="stops">
${rows}
    </g>
  </g>
  <g id="district-map">
    <title>District map</title>
    <g clip-path="url(#window)">
      <path d="M30 800 C 140 730 230 860 330 790 S 500 740 580 820" fill="none" stroke="#6fa3a0" stroke-width="26"/>
      <path d="M80 740 l60 20 -20 55 -60 -18 z M92 752 l10 36 28 8 10 -28 z" fill="#d9c8a0" fill-rule="evenodd"/>
      <path d="M400 760 q40 -30 80 0 t60 40 v50 h-140 z" fill="url(#grass)"/>
    </g>
    <rect x="40" y="730" width="520" height="130" rx="12" fill="none" stroke="#1f2a37" stroke-width="3"/>
    <text x="300" y="885" text-anchor="middle" font-family="Harbour Narrow" font-size="18" fill="#1f2a37">Orchard Gate ↔ Harbour Steps, every 8 min</text>
    <g transform="translate(515 775) rotate(18)">
      <path d="M0 -28 L9 16 L0 8 L-9 16 Z" fill="#1f2a37"/>
    </g>
  </g>
  <g id="marks-8-fold" display="none">
    <title>8-fold marks</title>
    <path d="M0 450H20M580 450H600" stroke="#00aaff"/>
  </g>
</svg>
`;
}

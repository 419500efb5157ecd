/** A study for the sign over the shelter, drawn over a scan of the sketch that lies beside the file and is only named. */
export function signStudy(): string {
  const posts = [110, 270, 432, 600].map((x) => `<path d="M${25 + x / 2} 103v122h5v-122z"/>`).join('');
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="410mm" height="290mm" viewBox="0 0 410 290">
  <title>Kestrel Row, study for the sign</title>
  <g id="sketch"><image xlink:href="scans/Kestrel-Row-Sketch.PNG" x="25" y="50" width="360" height="210" preserveAspectRatio="none"/></g>
  <g id="posts" fill="none" stroke="#1f5f6b" stroke-width="0.7">${posts}</g>
  <g id="roof" fill="none" stroke="#b5532a" stroke-width="1"><path d="M55 105L356 101V92L58 96z"/></g>
  <g id="sign" fill="#f2b632" stroke="#1f2a37" stroke-width="0.6">
    <rect x="172" y="111" width="76" height="15" rx="2"/>
    <text x="210" y="121.6" font-family="Spline Sans" font-size="9" text-anchor="middle" fill="#1f2a37" stroke="none">KESTREL ROW</text>
  </g>
  <g id="sizes" fill="none" stroke="#6b6257" stroke-width="0.35"><path d="M172 130v8M248 130v8M172 135h76"/><text x="210" y="143" font-family="Spline Sans" font-size="6" text-anchor="middle" fill="#6b6257" stroke="none">1520</text></g>
</svg>
`;
}

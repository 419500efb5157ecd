/*
 * The leaflet of the tram stop as its printer sent it: a PDF of two pages, the cover and a map at 1 : 500, put together by hand so that
 * no writer of ours has a part in what the demo job reads. Lengths in mm on the page.
 */

const K = 72 / 25.4;
const pt = (mm: number): string => String(Number((mm * K).toFixed(4)));
const at = (x: number, y: number): string => `${pt(x)} ${pt(y)}`;

/** A map is drawn so many times smaller than what it shows. */
const SCALE = 500;
/** Metres of the site on the page. */
const m = (metres: number): number => (metres * 1000) / SCALE;

const line = (x0: number, y0: number, x1: number, y1: number): string => `${at(x0, y0)} m ${at(x1, y1)} l S`;
const box = (x: number, y: number, w: number, h: number, how: string): string =>
  `${at(x, y)} ${pt(w)} ${pt(h)} re ${how}`;
const words = (text: string, x: number, y: number, size: number, font = 'F1'): string =>
  `BT /${font} ${pt(size)} Tf ${at(x, y)} Td (${text}) Tj ET`;
const circle = (x: number, y: number, r: number, how: string): string => {
  const k = 0.5522847498307936 * r;
  return [
    `${at(x + r, y)} m`,
    `${at(x + r, y + k)} ${at(x + k, y + r)} ${at(x, y + r)} c`,
    `${at(x - k, y + r)} ${at(x - r, y + k)} ${at(x - r, y)} c`,
    `${at(x - r, y - k)} ${at(x - k, y - r)} ${at(x, y - r)} c`,
    `${at(x + k, y - r)} ${at(x + r, y - k)} ${at(x + r, y)} c h ${how}`,
  ].join(' ');
};
const on = (layer: string, ...content: string[]): string => `/OC /${layer} BDC\n${content.join('\n')}\nEMC`;

function cover(): string {
  return [
    on('L1', '0.122 0.164 0.216 rg', box(0, 60, 210, 88, 'f')),
    on(
      'L4',
      '0.965 0.945 0.894 rg',
      words('Kestrel Row', 16, 104, 18, 'F2'),
      words('Your new tram stop, and how to reach it', 16, 92, 6),
      '0.122 0.164 0.216 rg',
      words('Map inside, 1 : 500', 16, 40, 5),
    ),
    on('L3', '0.769 0.318 0.176 rg', circle(176, 40, 6, 'f')),
  ].join('\n');
}

function map(): string {
  // The platform is 30 m long and 3.2 m wide; the street runs beside it, the river above.
  const [x, y] = [50, 52];
  const grid = Array.from({ length: 9 }, (_, i) => line(10 + m(10 * i), 10, 10 + m(10 * i), 138));
  return [
    on('L5', '0.1 w 0.7 G [2 2] 0 d', ...grid, '[] 0 d'),
    on(
      'L2',
      '0.2 w 0.435 0.639 0.627 rg',
      `${at(10, 112)} m ${at(60, 128)} ${at(110, 96)} ${at(200, 120)} c ${at(200, 132)} l ${at(110, 108)} ${at(60, 140)} ${at(10, 124)} c h f`,
    ),
    on(
      'L1',
      `${pt(0.35)} w 0 G`,
      line(10, y - m(2), 200, y - m(2)),
      line(10, y - m(9), 200, y - m(9)),
      line(x, 10, x, y - m(9)),
      line(x - m(6), 10, x - m(6), y - m(9)),
      // Kerbs, paths and the frame of the park, whole metres all.
      line(x + m(40), y - m(2), x + m(40), y + m(12)),
      line(x + m(40), y + m(12), x + m(62), y + m(12)),
      line(x + m(62), y + m(12), x + m(62), y - m(2)),
      line(x + m(44), y + m(2), x + m(58), y + m(2)),
      line(x + m(44), y + m(8), x + m(58), y + m(8)),
    ),
    on(
      'L3',
      `${pt(0.5)} w 0.769 0.318 0.176 RG`,
      box(x, y, m(30), m(3.2), 'S'),
      circle(x + m(4), y + m(1.6), m(1), 'S'),
      circle(x + m(26), y + m(1.6), m(1), 'S'),
      `${pt(0.18)} w 0 G`,
      line(x, y + m(6), x + m(30), y + m(6)),
      line(x + m(34), y, x + m(34), y + m(3.2)),
    ),
    on(
      'L4',
      '0 g',
      words('Kestrel Row', x, y + m(6) + 6, 4, 'F2'),
      words('30', x + m(15), y + m(6) + 1, 2.5),
      words('3.2', x + m(34) + 1, y + m(1.6), 2.5),
      words('Orchard Lane', 120, y - m(6), 3.5),
      words('River Tarn', 96, 106, 3.5),
      words('1 : 500', 180, 14, 3.5),
    ),
  ].join('\n');
}

const LAYERS = ['Streets', 'Water', 'Stop', 'Names', 'Grid'];

/** The file, the same bytes each time. */
export function leaflet(): string {
  const bodies: string[] = [];
  const add = (body: string): number => bodies.push(body);
  const stream = (content: string): string => `<< /Length ${content.length} >>\nstream\n${content}\nendstream`;
  add(
    '<< /Type /Catalog /Pages 2 0 R /OCProperties << /OCGs [3 0 R 4 0 R 5 0 R 6 0 R 7 0 R] /D << /Order [3 0 R 4 0 R 5 0 R 6 0 R 7 0 R] /OFF [7 0 R] >> >> >>',
  );
  add('<< /Type /Pages /Count 2 /Kids [10 0 R 12 0 R] >>');
  for (const layer of LAYERS) add(`<< /Type /OCG /Name (${layer}) >>`);
  add('<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>');
  add('<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold /Encoding /WinAnsiEncoding >>');
  const resources = `/Resources << /Font << /F1 8 0 R /F2 9 0 R >> /Properties << ${LAYERS.map((_, i) => `/L${i + 1} ${3 + i} 0 R`).join(' ')} >> >>`;
  for (const [n, content] of [cover(), map()].entries()) {
    add(`<< /Type /Page /Parent 2 0 R /MediaBox [0 0 ${at(210, 148)}] ${resources} /Contents ${11 + 2 * n} 0 R >>`);
    add(stream(content));
  }
  let text = '%PDF-1.5\n';
  const places = bodies.map((body, i) => {
    const place = text.length;
    text += `${i + 1} 0 obj\n${body}\nendobj\n`;
    return place;
  });
  const table = text.length;
  text += `xref\n0 ${places.length + 1}\n0000000000 65535 f \n`;
  for (const p of places) text += `${String(p).padStart(10, '0')} 00000 n \n`;
  return `${text}trailer\n<< /Size ${places.length + 1} /Root 1 0 R >>\nstartxref\n${table}\n%%EOF\n`;
}

// Makes a DXF of a given number of entities: lines, circles, arcs, polylines with bulges, text, inserts. Deterministic.
import { closeSync, openSync, writeSync } from 'node:fs';

/** Writes an SVG of so many paths of lines and cubics in a hundred named groups, the same each time. */
export function makeSvg(file, paths) {
  const out = openSync(file, 'w');
  let seed = 20261124;
  const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
  const step = () => (random() * 9 - 4).toFixed(3);
  writeSync(out, '<svg xmlns="http://www.w3.org/2000/svg" width="1000mm" height="1000mm" viewBox="0 0 1000 1000">');
  for (let g = 0; g < 100; g++) {
    let text = `<g id="group-${g}" fill="none" stroke="#1f2a37" stroke-width=".5">\n`;
    for (let i = 0; i < paths / 100; i++) {
      let d = `M${(random() * 1000).toFixed(3)} ${(random() * 1000).toFixed(3)}`;
      for (let k = 0; k < 8; k++)
        d += k % 3 === 0 ? `l${step()} ${step()}` : `c${[0, 1, 2, 3, 4, 5].map(step).join(' ')}`;
      text += `<path d="${d}" style="stroke:#${(g * 2 + 100000).toString(16).padStart(6, '0')}"/>\n`;
    }
    writeSync(out, text + '</g>\n');
  }
  writeSync(out, '</svg>\n');
  closeSync(out);
}

/** Writes a DXF of so many closed outlines laid like bricks, the gaps between rows three thousandths wide. */
export function makeBricks(file, outlines) {
  const out = openSync(file, 'w');
  const wide = Math.ceil(Math.sqrt(outlines));
  const header = [0, 'SECTION', 2, 'HEADER', 9, '$ACADVER', 1, 'AC1024', 9, '$INSUNITS', 70, 4, 0, 'ENDSEC'];
  writeSync(out, [...header, 0, 'SECTION', 2, 'ENTITIES'].join('\n') + '\n');
  for (let i = 0; i < outlines; i++) {
    const row = Math.floor(i / wide);
    const [x, y] = [(i % wide) * 60 + (row % 2) * 30, row * 40.003];
    const corners = [10, x, 20, y, 10, x + 60, 20, y, 10, x + 60, 20, y + 40, 10, x, 20, y + 40];
    writeSync(out, [0, 'LWPOLYLINE', 8, `WALL-${row % 7}`, 90, 4, 70, 1, ...corners].join('\n') + '\n');
  }
  writeSync(out, '0\nENDSEC\n0\nEOF\n');
  closeSync(out);
}

/**
 * `digits`: how many digits coordinates carry, 10 after the point or 17 in all, as most programs write them; every fortieth entity
 * is a spline then.
 */
export function makeFile(path, entities, digits = 10) {
  const out = openSync(path, 'w');
  let text = '';
  const put = (...tags) => {
    for (let i = 0; i < tags.length; i += 2) text += `${String(tags[i]).padStart(3)}\r\n${tags[i + 1]}\r\n`;
    if (text.length > 1 << 20) {
      writeSync(out, text);
      text = '';
    }
  };
  let seed = 12345;
  const random = () => (seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff) / 0x7fffffff;
  const fine = digits === 17;
  const text17 = (v) => String(Number(v.toPrecision(17)));
  // Sums of three, so that all 53 bits of a double are used.
  const n = () =>
    fine ? text17((random() + random() / 2 ** 30 + random() / 2 ** 60) * 100000) : (random() * 100000).toFixed(10);
  put(
    0,
    'SECTION',
    2,
    'HEADER',
    9,
    '$ACADVER',
    1,
    'AC1024',
    9,
    '$INSUNITS',
    70,
    4,
    0,
    'ENDSEC',
    0,
    'SECTION',
    2,
    'TABLES',
    0,
    'TABLE',
    2,
    'LAYER',
    70,
    20,
  );
  for (let i = 0; i < 20; i++) put(0, 'LAYER', 2, `LAYER-${i}`, 70, 0, 62, 1 + i * 10, 6, 'Continuous');
  put(
    0,
    'ENDTAB',
    0,
    'ENDSEC',
    0,
    'SECTION',
    2,
    'BLOCKS',
    0,
    'BLOCK',
    8,
    '0',
    2,
    'MARK',
    70,
    0,
    10,
    '0.0',
    20,
    '0.0',
    30,
    '0.0',
  );
  put(
    0,
    'CIRCLE',
    5,
    '10',
    8,
    '0',
    10,
    '0.0',
    20,
    '0.0',
    40,
    '1.0',
    0,
    'LINE',
    5,
    '11',
    8,
    '0',
    10,
    '-1.0',
    20,
    '0.0',
    11,
    '1.0',
    21,
    '0.0',
    0,
    'ENDBLK',
    8,
    '0',
  );
  put(0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES');
  for (let i = 0; i < entities; i++) {
    const head = (type, sub) =>
      put(
        0,
        type,
        5,
        (0x100 + i).toString(16).toUpperCase(),
        330,
        '1F',
        100,
        'AcDbEntity',
        8,
        `LAYER-${i % 20}`,
        100,
        sub,
      );
    const kind = i % 10;
    if (fine && i % 40 === 0) {
      head('SPLINE', 'AcDbSpline');
      put(70, 8, 71, 3, 72, 12, 73, 8, 74, 0);
      for (const k of [0, 0, 0, 0, 1, 2, 3, 4, 5, 5, 5, 5]) put(40, k);
      const [cx, cy] = [random() * 100000, random() * 100000];
      for (let k = 0; k < 8; k++) put(10, text17(cx + random() * 500), 20, text17(cy + random() * 500), 30, '0.0');
    } else if (kind < 4) {
      head('LINE', 'AcDbLine');
      put(10, n(), 20, n(), 30, '0.0', 11, n(), 21, n(), 31, '0.0');
    } else if (kind < 7) {
      head('LWPOLYLINE', 'AcDbPolyline');
      put(90, 8, 70, i % 2, 43, '0.0');
      const [cx, cy] = [random() * 100000, random() * 100000];
      const near = (c) => (fine ? text17(c + random() * 500 + random() / 2 ** 24) : (c + random() * 500).toFixed(10));
      for (let k = 0; k < 8; k++) {
        put(10, near(cx), 20, near(cy));
        if (k % 4 === 0) put(42, '0.4142135623730951');
      }
    } else if (kind === 7) {
      head('ARC', 'AcDbCircle');
      put(
        10,
        n(),
        20,
        n(),
        30,
        '0.0',
        40,
        (random() * 100).toFixed(8),
        100,
        'AcDbArc',
        50,
        (random() * 360).toFixed(6),
        51,
        (random() * 360).toFixed(6),
      );
    } else if (kind === 8) {
      head('CIRCLE', 'AcDbCircle');
      put(10, n(), 20, n(), 30, '0.0', 40, (random() * 100).toFixed(8));
    } else if (i % 20 === 9) {
      head('TEXT', 'AcDbText');
      put(10, n(), 20, n(), 30, '0.0', 40, '25.0', 1, `Note ${i % 500}`, 100, 'AcDbText');
    } else {
      head('INSERT', 'AcDbBlockReference');
      put(2, 'MARK', 10, n(), 20, n(), 30, '0.0', 41, '5.0', 42, '5.0', 43, '1.0');
    }
  }
  put(0, 'ENDSEC', 0, 'EOF');
  writeSync(out, text);
  closeSync(out);
}

/** Writes a PDF of so many pages with so many short lines each, nothing packed, the same each time. */
export function makePdf(file, pages, lines) {
  let seed = 20261130;
  const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
  const place = () => (random() * 1100).toFixed(2);
  const bodies = [`<< /Type /Catalog /Pages 2 0 R >>`];
  bodies.push(
    `<< /Type /Pages /Count ${pages} /Kids [${Array.from({ length: pages }, (_, i) => `${3 + 2 * i} 0 R`).join(' ')}] >>`,
  );
  for (let i = 0; i < pages; i++) {
    let content = '0.5 w\n';
    for (let k = 0; k < lines; k++) content += `${place()} ${place()} m ${place()} ${place()} l S\n`;
    bodies.push(
      `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 1190.55 841.89] /Resources << >> /Contents ${4 + 2 * i} 0 R >>`,
      `<< /Length ${content.length} >>\nstream\n${content}endstream`,
    );
  }
  let text = '%PDF-1.5\n';
  const places = bodies.map((body, i) => {
    const at = text.length;
    text += `${i + 1} 0 obj\n${body}\nendobj\n`;
    return at;
  });
  const table = text.length;
  text += `xref\n0 ${bodies.length + 1}\n0000000000 65535 f \n`;
  text += places.map((at) => `${String(at).padStart(10, '0')} 00000 n \n`).join('');
  text += `trailer\n<< /Size ${bodies.length + 1} /Root 1 0 R >>\nstartxref\n${table}\n%%EOF\n`;
  const out = openSync(file, 'w');
  writeSync(out, text);
  closeSync(out);
}

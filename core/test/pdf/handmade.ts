/** A PDF put together by hand, byte by byte, without the writer of the product: objects in order, an exact table, nothing packed. */
export interface HandmadePage {
  content: string;
  box?: string;
  /** More of the page's dictionary, such as `/Rotate 90`. */
  more?: string;
  resources?: string;
}

/** `objects` are numbered from 10 on, for resources to refer to. */
export function handmadePdf(
  pages: readonly HandmadePage[],
  { objects = [], catalog = '', trailer = '' }: { objects?: string[]; catalog?: string; trailer?: string } = {},
): Uint8Array {
  const first = 10 + objects.length;
  const bodies = new Map<number, string>();
  bodies.set(1, `<< /Type /Catalog /Pages 2 0 R ${catalog} >>`);
  bodies.set(
    2,
    `<< /Type /Pages /Count ${pages.length} /Kids [${pages.map((_, i) => `${first + 2 * i} 0 R`).join(' ')}] >>`,
  );
  objects.forEach((o, i) => bodies.set(10 + i, o));
  pages.forEach((p, i) => {
    const n = first + 2 * i;
    bodies.set(
      n,
      `<< /Type /Page /Parent 2 0 R /MediaBox [${p.box ?? '0 0 200 100'}] /Contents ${n + 1} 0 R /Resources << ${p.resources ?? ''} >> ${p.more ?? ''} >>`,
    );
    bodies.set(n + 1, `<< /Length ${p.content.length} >>\nstream\n${p.content}\nendstream`);
  });
  let text = '%PDF-1.6\n';
  const places = new Map<number, number>();
  for (const [n, body] of bodies) {
    places.set(n, text.length);
    text += `${n} 0 obj\n${body}\nendobj\n`;
  }
  const size = Math.max(...bodies.keys()) + 1;
  const table = text.length;
  text += `xref\n0 ${size}\n0000000000 65535 f \n`;
  for (let n = 1; n < size; n++)
    text += places.has(n) ? `${String(places.get(n)).padStart(10, '0')} 00000 n \n` : '0000000000 65535 f \n';
  text += `trailer\n<< /Size ${size} /Root 1 0 R ${trailer} >>\nstartxref\n${table}\n%%EOF\n`;
  return Uint8Array.from(text, (c) => c.charCodeAt(0));
}

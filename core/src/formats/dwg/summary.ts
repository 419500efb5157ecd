/** The part that names the drawing for a person: title and the like, then dates and properties, none of them given. */
export function summaryPart(v: number, title: string): Uint8Array {
  const words = [title, '', '', '', '', '', '', ''];
  const wide = v >= 2007;
  const size = words.reduce((n, w) => n + 2 + (w.length + 1) * (wide ? 2 : 1), 0) + 24 + 2 + 8;
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  let at = 0;
  for (const w of words) {
    view.setUint16(at, w.length + 1, true);
    at += 2;
    for (let i = 0; i < w.length; i++) {
      const c = w.charCodeAt(i);
      if (wide) view.setUint16(at, c, true);
      else out[at] = c < 256 ? c : 63;
      at += wide ? 2 : 1;
    }
    at += wide ? 2 : 1;
  }
  return out;
}

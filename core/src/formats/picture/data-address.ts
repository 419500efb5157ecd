const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const CODES = Uint8Array.from(LETTERS, (c) => c.charCodeAt(0));

/** Bytes as a `data:` address (RFC 2397) in base64 (RFC 4648). */
export function dataAddress(media: string, bytes: Uint8Array): string {
  const n = bytes.length;
  const out = new Uint8Array(Math.ceil(n / 3) * 4);
  let o = 0;
  for (let i = 0; i < n; i += 3) {
    const v = (bytes[i] << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    out[o++] = CODES[v >> 18];
    out[o++] = CODES[(v >> 12) & 63];
    out[o++] = i + 1 < n ? CODES[(v >> 6) & 63] : 61;
    out[o++] = i + 2 < n ? CODES[v & 63] : 61;
  }
  return `data:${media};base64,${new TextDecoder('latin1').decode(out)}`;
}

/** The bytes of a `data:` address in base64; `null` for any other. */
export function bytesOfAddress(address: string): { media: string; bytes: Uint8Array<ArrayBuffer> } | null {
  const head = /^data:([a-z]+\/[a-z0-9.+-]+)(?:;[^,;]*)*;base64,/i.exec(address);
  if (!head) return null;
  try {
    const text = atob(address.slice(head[0].length).replace(/\s/g, ''));
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
    return { media: head[1].toLowerCase(), bytes };
  } catch {
    return null;
  }
}

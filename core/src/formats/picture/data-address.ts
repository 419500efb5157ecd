/** Bytes turned into text at a time: a call takes no more arguments. */
const AT_ONCE = 1 << 15;

/** Bytes as a `data:` address (RFC 2397) in base64 (RFC 4648). */
export function dataAddress(media: string, bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let i = 0; i < bytes.length; i += AT_ONCE) parts.push(String.fromCharCode(...bytes.subarray(i, i + AT_ONCE)));
  return `data:${media};base64,${btoa(parts.join(''))}`;
}

/** The bytes of a `data:` address in base64; `null` for any other. */
export function bytesOfAddress(address: string): { media: string; bytes: Uint8Array<ArrayBuffer> } | null {
  const head = /^data:([a-z]+\/[a-z0-9.+-]+)(?:;[^,;]*)*;base64,/i.exec(address);
  if (!head) return null;
  try {
    const text = atob(address.slice(head[0].length).replace(/\s/g, ''));
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
    return { media: head[1]!.toLowerCase(), bytes };
  } catch {
    return null;
  }
}

/** A tag as text: group code and value. */
export type RawTag = [number, string];

/** Takes tags in a source's own form (a code line, a value line, and so on) apart. A last code without value is left out. */
export function parseRaw(raw: string): RawTag[] {
  const lines = raw.replace(/\r\n?/g, '\n').split('\n');
  const tags: RawTag[] = [];
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = Number(lines[i]);
    if (Number.isInteger(code)) tags.push([code, lines[i + 1]!]);
  }
  return tags;
}

export const formatRaw = (tags: readonly RawTag[]): string => tags.map(([c, v]) => `${c}\n${v}\n`).join('');

/** The first value with the code, or `undefined`. */
export const rawValue = (tags: readonly RawTag[], code: number): string | undefined =>
  tags.find((t) => t[0] === code)?.[1].trim();

/** Whether a code holds the handle of another record (DXF reference, "group codes": 320 to 369, 390 to 399, 480, 481, 1005). */
export const isPointer = (code: number): boolean =>
  (code >= 320 && code <= 369) || (code >= 390 && code <= 399) || code === 480 || code === 481 || code === 1005;

/** A handle in its one form: upper case without leading zeros; `null` for what is none. */
export function handleOf(text: string | undefined): string | null {
  const t = text?.trim() ?? '';
  if (!/^[0-9A-Fa-f]{1,16}$/.test(t)) return null;
  return t.replace(/^0+(?=.)/, '').toUpperCase();
}

/** A sign that stands for itself after a backslash, a sign that means something, and letters. */
const PLAIN = /\\([\\*,])|([*,])|([^\\*,]+|\\)/g;

const literal = (text: string): string => text.replace(/[.+*?^${}()|[\]\\]/g, '\\$&');

/**
 * Whether a name fits a pattern: `*` stands for any letters, several patterns stand apart by commas, capitals do not
 * count. An empty pattern fits every name. A backslash before a star or a comma makes it one of the name (`exactName`).
 */
export function namePattern(pattern: string): (name: string) => boolean {
  const wanted: string[] = [''];
  for (const [, plain, sign, text] of pattern.matchAll(PLAIN)) {
    if (sign === ',') wanted.push('');
    else wanted[wanted.length - 1] += sign === '*' ? '.*' : literal(plain ?? text ?? '');
  }
  const tests = wanted
    .map((w) => w.trim())
    .filter((w) => w !== '')
    .map((w) => new RegExp(`^${w}$`, 'is'));
  return (name) => tests.length === 0 || tests.some((t) => t.test(name.trim()));
}

/** The pattern that one name alone fits, capitals aside. */
export const exactName = (name: string): string => name.replace(/[\\*,]/g, '\\$&');

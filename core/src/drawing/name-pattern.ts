/**
 * Whether a name fits a pattern: `*` stands for any letters, several patterns stand apart by commas, capitals do not
 * count. An empty pattern fits every name.
 */
export function namePattern(pattern: string): (name: string) => boolean {
  const wanted = pattern
    .split(',')
    .map((n) => n.trim())
    .filter(Boolean)
    .map(
      (n) =>
        new RegExp(
          `^${n
            .split('*')
            .map((t) => t.replace(/[.+?^${}()|[\]\\]/g, '\\$&'))
            .join('.*')}$`,
          'is',
        ),
    );
  return (name) => wanted.length === 0 || wanted.some((w) => w.test(name));
}

/** More kinds than these are counted, not named. */
const MOST_NAMED = 6;

/** Kinds of records by how many there are, the most first: `VISUALSTYLE 24, MATERIAL 3 and 2 kinds more`. */
export function kindsCounted(types: Iterable<string>): string {
  const counts = new Map<string, number>();
  for (const t of types) counts.set(t, (counts.get(t) ?? 0) + 1);
  const sorted = [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  const named = sorted.slice(0, MOST_NAMED).map(([type, n]) => `${type} ${n}`);
  const more = sorted.length - named.length;
  return named.join(', ') + (more > 0 ? ` and ${more} ${more === 1 ? 'kind' : 'kinds'} more` : '');
}

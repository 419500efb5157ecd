/** Plain data as a text that is the same for what says the same, in whatever order its fields came; `undefined` is not there. */
export const canonicalText = (v: unknown): string => JSON.stringify(ordered(v));

function ordered(v: unknown): unknown {
  if (Array.isArray(v)) return v.map(ordered);
  if (typeof v !== 'object' || v === null) return v;
  return Object.fromEntries(
    Object.entries(v)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, x]) => [name, ordered(x)]),
  );
}

import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const root = fileURLToPath(new URL('../src', import.meta.url));
const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts'));

/** What each module takes from others of the core, types too. */
const imports = new Map(
  files.map((file) => {
    const source = readFileSync(join(root, file), 'utf8');
    const from = [...source.matchAll(/from '(\.[^']+)\.js'/g)].map((m) =>
      normalize(join(dirname(file), `${m[1]!}.ts`)),
    );
    return [file, from] as const;
  }),
);

/** A way from a module back to itself, or `null`. */
function circleFrom(start: string): string[] | null {
  const before = new Map<string, string>();
  const next = [start];
  for (let file = next.shift(); file !== undefined; file = next.shift())
    for (const to of imports.get(file) ?? []) {
      if (to === start) {
        const way = [start];
        for (let at: string | undefined = file; at !== undefined && at !== start; at = before.get(at)) way.unshift(at);
        return [start, ...way];
      }
      if (!before.has(to) && to !== start) {
        before.set(to, file);
        next.push(to);
      }
    }
  return null;
}

it('no module of the core comes back to itself through what it imports', () => {
  expect(imports.size).toBeGreaterThan(200);
  const circles = files.flatMap((f) => circleFrom(f)?.join(' → ') ?? []);
  expect(circles).toEqual([]);
});

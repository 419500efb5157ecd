import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

let known: string | null = null;

/**
 * Print of the code that makes files: the same makes the same bytes of the same drawing. What another version of this program wrote
 * is written anew, not taken for unchanged.
 */
export function program(): string {
  if (known !== null) return known;
  const folder = dirname(fileURLToPath(import.meta.resolve('@scalaria/core')));
  const sum = createHash('sha256');
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.js'));
  for (const file of files.sort()) sum.update(file).update(readFileSync(join(folder, file)));
  return (known = sum.digest('hex'));
}

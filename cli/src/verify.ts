import { verify as verified } from '@scalaria/core';
import type { Options } from './arguments.js';
import { filesIn, readManifest } from './set-folder.js';
import { shown } from './terminal.js';

/** Holds a folder against the manifest that lies in it. */
export async function verify(o: Options): Promise<number> {
  const [folder] = o.files as [string];
  const manifest = readManifest(folder);
  const found = verified(manifest, await filesIn(folder));
  const sound = Object.values(found).every((list: readonly string[]) => list.length === 0);
  if (o.json) console.log(JSON.stringify({ command: 'verify', folder, ok: sound, ...found }, null, 2));
  else {
    const line = (what: string, names: readonly string[]): string[] =>
      names.map((n) => `  ${what.padEnd(9)} ${shown(n)}`);
    console.log(
      [
        `${shown(folder)}: ${sound ? `all ${manifest.files.length} files are as the manifest says` : 'not as the manifest says'}`,
        ...line('missing', found.missing),
        ...line('changed', found.changed),
        ...line('extra', found.extra),
        ...line('sums', found.sums),
      ].join('\n'),
    );
  }
  return sound ? 0 : 4;
}

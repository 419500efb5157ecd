// Puts damaged files through the whole chain, one after the other, as its parent asks; tells when each begins and ends.
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { chain } from './chain.mjs';
import { damaged } from './mutations.mjs';

process.on('message', async ({ file, seed }) => {
  const bytes = damaged(readFileSync(file), file, seed);
  let stage = '';
  const failed = [];
  try {
    await chain(
      bytes,
      basename(file),
      (what) => (stage = what),
      (what) => process.send({ at: what }),
    );
  } catch (e) {
    failed.push(`after "${stage}": ${e?.stack ?? e}`);
  }
  process.send({ done: true, failed, read: stage !== '' && stage !== 'read' });
});
process.send({ ready: true });

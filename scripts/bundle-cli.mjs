// Puts the shell command into a few files: as hundreds of modules it would take a second to begin. The reader of fonts is
// most of it and only loaded when a font is opened.
import { rmSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

const path = (relative) => fileURLToPath(new URL(`../cli/${relative}`, import.meta.url));
const folder = path('dist/bundle');
rmSync(folder, { recursive: true, force: true });

const build = async (input, output, plugins = []) => {
  const resolve = { conditionNames: ['source', 'import', 'node', 'default'] };
  const bundle = await rolldown({ input, platform: 'node', resolve, plugins, logLevel: 'warn' });
  await bundle.write({ dir: folder, minify: true, ...output });
  await bundle.close();
};

const LATE = `import { createRequire } from 'node:module';
let kit;
export const create = (...given) => (kit ??= createRequire(import.meta.url)('./fontkit.cjs')).create(...given);`;
const fontkitLate = {
  name: 'fontkit-late',
  resolveId: (id) => (id === 'fontkit' ? '\0fontkit-late' : null),
  load: (id) => (id === '\0fontkit-late' ? LATE : null),
};

await build({ fontkit: 'fontkit' }, { format: 'cjs', entryFileNames: '[name].cjs' });
await build({ main: path('src/main.ts'), thread: path('src/thread.ts') }, { format: 'esm' }, [fontkitLate]);

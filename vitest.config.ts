import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

/** Our own packages are tested as they stand in their sources, not as they were built last. */
const sources = {
  resolve: { conditions: ['source'] },
  ssr: { resolve: { conditions: ['source'] } },
};
/** Of the page's libraries some name sources too that they do not ship: there only ours are meant. */
const ownSources = {
  resolve: { alias: { '@scalaria/core': fileURLToPath(new URL('core/src/index.ts', import.meta.url)) } },
};

const project = (name: string, timeout = 10_000, resolved: typeof sources | typeof ownSources = sources) => ({
  ...resolved,
  test: {
    name,
    root: name,
    setupFiles: ['../scripts/law-seed.mjs'],
    include: ['test/**/*.test.{ts,tsx}'],
    testTimeout: timeout,
    hookTimeout: 60_000,
  },
});

export default defineConfig({
  test: {
    projects: [
      project('core', 60_000),
      project('cli', 60_000),
      project('web', 20_000, ownSources),
      project('server', 120_000),
    ],
  },
});

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

interface Choices {
  timeout?: number;
  resolved?: typeof sources | typeof ownSources;
  /** The core keeps nothing between tests and is large: its test files share what is loaded of it. */
  isolate?: boolean;
  /** What starts processes of its own, and waits for them, has the machine to itself. */
  alone?: boolean;
  /** What is run before each file of tests, beside the seed of laws. */
  setup?: string[];
}

const project = (
  name: string,
  { timeout = 10_000, resolved = sources, isolate = true, alone = false, setup = [] }: Choices,
) => ({
  ...resolved,
  test: {
    name,
    root: name,
    setupFiles: ['../scripts/law-seed.mjs', ...setup],
    include: ['test/**/*.test.{ts,tsx}'],
    testTimeout: timeout,
    hookTimeout: 60_000,
    isolate,
    maxWorkers: alone ? 1 : 2,
    sequence: { groupOrder: alone ? 1 : 0 },
  },
});

export default defineConfig({
  test: {
    projects: [
      project('core', { timeout: 120_000, isolate: false }),
      project('web', { timeout: 30_000, resolved: ownSources, setup: ['test/support/patience.ts'] }),
      project('cli', { timeout: 60_000, alone: true }),
      project('server', { timeout: 120_000, alone: true }),
    ],
  },
});

import { defineConfig } from 'vitest/config';

const project = (name: string, timeout = 10_000) => ({
  resolve: { conditions: ['source'] },
  ssr: { resolve: { conditions: ['source'] } },
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
    projects: [project('core', 60_000), project('cli', 60_000), project('web'), project('server', 120_000)],
  },
});

import { defineConfig } from '@playwright/test';

// Debian's Chromium, drawing WebGL by software.
export default defineConfig({
  testDir: '.',
  timeout: 120_000,
  workers: 1,
  // One more try: drawing by software on a busy machine can be slow beyond any patience.
  retries: 1,
  reporter: [['list'], ['json', { outputFile: 'test-results/report.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    actionTimeout: 15_000,
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking',
        '--disable-component-update', '--disable-sync', '--use-angle=swiftshader', '--enable-unsafe-swiftshader',
      ], // prettier-ignore
    },
  },
});

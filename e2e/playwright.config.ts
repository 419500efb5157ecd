import { defineConfig } from '@playwright/test';

// Debian's Chromium, drawing WebGL by software.
export default defineConfig({
  testDir: '.',
  // Drawing by software on a busy machine is slow: patience, and no second try that would hide a fault.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  workers: 1,
  retries: 0,
  reporter: [['list'], ['json', { outputFile: 'test-results/report.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    actionTimeout: 30_000,
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--headless',
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
      ],
    },
  },
});

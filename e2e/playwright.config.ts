import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: './tests',
  timeout: 480_000,
  expect: { timeout: 120_000 },
  workers: 1,
  reporter: 'list',
  outputDir: './test-results',
  globalSetup: './serveForTests.ts',
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
  },
});

import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  workers: 1,
  // Long limits cost nothing when all is well, and other work may keep the processors busy.
  timeout: 240_000,
  expect: { timeout: 60_000 },
  reporter: process.env['REPORT_FILE'] ? [['list'], ['json', { outputFile: process.env['REPORT_FILE'] }]] : [['list']],
  outputDir: '../test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    },
  },
})

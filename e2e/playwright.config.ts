import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './browser.js';

const PORT = '41790';

/** The long checks run all of them; else only those that go through the heart of a view, which bear this tag. */
const TAGGED = process.env['LONG'] === undefined ? /@smoke/ : /./;

/** Browser tests against the production build, served as a user would have it, in Debian's Chromium. */
export default defineConfig({
  testDir: '.',
  globalSetup: './demoStore.ts',
  outputDir: './results',
  timeout: 120_000,
  // A machine at work on something else is slow, not wrong.
  expect: { timeout: 20_000 },
  workers: 2,
  fullyParallel: true,
  forbidOnly: true,
  grep: TAGGED,
  reporter: [['list'], ['json']],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    // What is kept for times without a server would answer before the tests' own answers.
    serviceWorkers: 'block',
    launchOptions: {
      executablePath: CHROMIUM,
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  // What is timed runs after all else, alone.
  projects: [
    { name: 'views', testIgnore: 'speed.spec.ts' },
    { name: 'speed', testMatch: 'speed.spec.ts', dependencies: ['views'], fullyParallel: false },
  ],
  webServer: {
    command: 'node --import tsx server.ts',
    env: { PORT },
    url: `http://127.0.0.1:${PORT}/`,
    reuseExistingServer: false,
  },
});

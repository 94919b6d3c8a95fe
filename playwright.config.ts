import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defineConfig } from '@playwright/test'
import { e2ePorts } from './e2e/ports'

/**
 * `npm test` runs the files in two halves beside each other, each with a demo of its own (scripts/test.mjs). These files, together
 * about half of the time, are the second; without GHARRY_HALF all are run.
 */
const second =
  /(4-setup|5-(customer|board-and-find)|9-(keys-and-places|without-a-mouse|few-keys|under-hands|places))\.spec\.ts$/
const half = process.env.GHARRY_HALF

/** The real interface in Debian's Chromium, against the whole demo on ports and data of its own. */
export default defineConfig({
  testDir: 'e2e',
  ...(half === '1' && { testIgnore: second }),
  ...(half === '2' && { testMatch: second }),
  outputDir: `test-results/${half ?? 'all'}`,
  timeout: 120_000,
  expect: { timeout: 20_000 },
  workers: 1,
  // A busy machine may make one step late; a real fault fails twice.
  retries: process.env.CI ? 1 : 0,
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : [['list']],
  use: {
    baseURL: `http://127.0.0.1:${e2ePorts.GHARRY_PORT}`,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'UTC',
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
  webServer: {
    command: 'node scripts/demo.mjs --fresh',
    url: `http://127.0.0.1:${e2ePorts.GHARRY_PORT}/api/health`,
    timeout: 300_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 9000 },
    env: {
      ...Object.fromEntries(Object.entries(e2ePorts).map(([name, port]) => [name, String(port)])),
      GHARRY_DATA: join(tmpdir(), `gharry-e2e-${process.pid}`),
      GHARRY_NOTICE_WAIT_SECONDS: '8',
      GHARRY_LOG: 'warn',
    },
  },
})

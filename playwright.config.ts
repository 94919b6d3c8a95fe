import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defineConfig } from '@playwright/test'
import { e2ePorts } from './e2e/ports'
import { signedInState } from './e2e/signedInState'

/**
 * `npm test` runs the files in three parts, two beside each other, each with a demo of its own (scripts/test.mjs). What
 * is named here is the second and the third, all else the first; without GHARRY_PART all are run.
 */
const parts: Readonly<Record<string, RegExp>> = {
  2: /(5-every-view|9-(places|few-keys|under-hands))\.spec\.ts$/,
  3: /(4-(day|floor)|5-(customer|board-and-find|returns)|9-(keys-and-places|without-a-mouse))\.spec\.ts$/,
}
const part = process.env.GHARRY_PART

/** The real interface in Debian's Chromium, against the whole demo on ports and data of its own. */
export default defineConfig({
  testDir: 'e2e',
  ...(part === '1' && { testIgnore: Object.values(parts) }),
  ...(part && parts[part] && { testMatch: parts[part] }),
  globalSetup: './e2e/signIn.ts',
  outputDir: `test-results/${part ?? 'all'}`,
  // A test that hangs is ended; it is no measure of speed: machines that many share go at a tenth of theirs at times.
  timeout: 600_000,
  expect: { timeout: 90_000, toPass: { timeout: 90_000 } },
  workers: 1,
  // A busy machine may make one step late; a real fault fails twice.
  retries: process.env.CI || part ? 1 : 0,
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : [['list']],
  use: {
    // Most tests are the operations lead's.
    storageState: signedInState,
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
    timeout: 600_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 9000 },
    env: {
      ...Object.fromEntries(Object.entries(e2ePorts).map(([name, port]) => [name, String(port)])),
      GHARRY_DATA: join(tmpdir(), `gharry-e2e-${process.pid}`),
      GHARRY_NOTICE_WAIT_SECONDS: '8',
      GHARRY_LOG: 'warn',
    },
  },
})

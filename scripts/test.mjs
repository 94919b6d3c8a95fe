/* npm test: installs what is missing, then format, lint, types, unused parts, unit tests, build, browser tests and a short campaign. */
import { spawn } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { build, environment, install, installPackages, nodeIsNewEnough } from './environment.mjs'
import { postgresPrograms } from './postgres.mjs'
import * as report from './test-report.mjs'

if (!nodeIsNewEnough()) process.exit(1)
install()
programs()
const env = environment()
const reports = mkdtempSync(join(tmpdir(), 'gharry-tests-'))
// The framework's own types are of the build before, whose routes may be others.
rmSync('.next/types', { recursive: true, force: true })
// What a failed test leaves open keeps nothing from ending: the run is ended when it is done, and by its limit.
const running = new Set()
setTimeout(() => {
  console.error('The tests have not ended within two hours: something hangs. They are ended.')
  for (const child of running) child.kill('SIGKILL')
  process.exit(1)
}, 120 * 60_000).unref()
// The unit tests leave a processor free for all that reads the source.
const checked = beside([
  ['prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'],
  ['eslint/bin/eslint.js', '.', '--max-warnings', '0'],
  ['typescript/bin/tsc', '--noEmit'],
  ['knip/bin/knip.js', '--no-config-hints'],
])
const tested = unitTests()
// The build goes on with the processor that the checks have used, and then the browser tests; the unit tests' is theirs
// when it is free.
const built = checked.then((well) => {
  if (well) build(env)
  return well
})
// Each part of the browser tests; five rounds of the campaign, in which all kinds of processes are killed, and the clock
// is turned; and some of the use cases on PostgreSQL, where it is installed.
const waiting = [() => browserTests('3'), () => browserTests('1'), () => browserTests('2'), shortCampaign, onPostgres]
const browser = []
let [campaign, postgres] = [false, false]
await Promise.all(
  [built, Promise.all([built, tested]).then(([builtWell]) => builtWell)].map(async (ready) => {
    if (!(await ready)) return
    for (let part = waiting.shift(); part; part = waiting.shift()) await part()
  }),
)
const steps = [
  { name: 'format, lint, types, unused parts', well: await checked },
  { name: 'unit tests', well: await tested },
  ...browser,
  { name: 'the short campaign', well: campaign },
  { name: 'use cases on PostgreSQL', well: postgres },
]
const units = report.unitTests(`${reports}/jest.json`, `${reports}/jest-again.json`)
const parts = [units, ...browser.map(({ file }) => report.browserTests(file))]
console.log(report.summary(parts, steps))
process.exit(steps.every(({ well }) => well) ? 0 : 1)

/**
 * The unit and use-case tests. Files in which a test failed are run once more, one at a time: the summary says what
 * passed then only, as a busy machine may make one step late, and a real fault fails twice.
 */
async function unitTests() {
  const jest = (file, ...more) =>
    one('inherit', 'jest/bin/jest.js', '--forceExit', '--json', `--outputFile=${file}`, ...more)
  if (await jest(`${reports}/jest.json`)) return true
  const failed = report.failedFiles(`${reports}/jest.json`)
  if (failed.length === 0 || failed.length > 10) return false
  console.log(`Once more, one at a time:\n${failed.join('\n')}`)
  return jest(`${reports}/jest-again.json`, '--runInBand', '--runTestsByPath', ...failed)
}

/**
 * A part of the browser tests, with a demo, ports and data of its own: they have the plain environment. What it says is
 * printed when it is done, so that those of the other part are not mixed in.
 */
function browserTests(part) {
  const file = join(reports, `browser-${part}.json`)
  const env = {
    ...process.env,
    NEXT_TELEMETRY_DISABLED: '1',
    PLAYWRIGHT_JSON_OUTPUT_NAME: file,
    PLAYWRIGHT_FORCE_TTY: '0',
    GHARRY_PART: part,
  }
  const child = spawn('node', ['node_modules/@playwright/test/cli.js', 'test'], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  running.add(child)
  const said = []
  child.stdout.on('data', (data) => said.push(data))
  child.stderr.on('data', (data) => said.push(data))
  return new Promise((resolve) => {
    child.on('close', (status) => {
      process.stdout.write(`Browser tests, part ${part}:\n${Buffer.concat(said)}`)
      browser.push({ name: `browser tests, part ${part}`, well: status === 0, file })
      resolve()
    })
  })
}

/** Works, kills and compares the books; `npm run campaign` does so for longer. */
async function shortCampaign() {
  const short = ['--rounds', '5', '--misfortunes', '4', '--seed', '8']
  campaign = await node('inherit', 'scripts/campaign.mjs', '--built', ...short)
}

/** `npm run test:postgres` does so with all use cases. */
async function onPostgres() {
  if (postgresPrograms() === null) {
    console.log('PostgreSQL is not installed: nothing was tried on it. npm run test:postgres installs it where it may.')
    postgres = true
    return
  }
  const some = ['engines', 'many', 'shipments'].map((name) => `tests/${name}\\.test`)
  postgres = await node('inherit', 'scripts/test-postgres.mjs', ...some)
}

/** One program of node_modules; whether it went well. */
function one(stdio, program, ...args) {
  return node(stdio, `node_modules/${program}`, ...args)
}

function node(stdio, program, ...args) {
  const child = spawn('node', [program, ...args], { stdio: ['ignore', stdio, stdio] })
  running.add(child)
  const said = []
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (data) => said.push(data))
  return new Promise((resolve) => {
    child.on('close', (status) => {
      if (status !== 0) process.stdout.write(`${program} failed.\n${Buffer.concat(said)}`)
      resolve(status === 0)
    })
  })
}

/** Programs one after the other, whose lines are shown when one fails. */
async function beside(programs) {
  for (const [program, ...args] of programs) if (!(await one('pipe', program, ...args))) return false
  return true
}

/** The programs that the tests read Gharry's output with, and the browser. */
function programs() {
  const needed = {
    chromium: '/usr/bin/chromium',
    'zbar-tools': '/usr/bin/zbarimg',
    'poppler-utils': '/usr/bin/pdftoppm',
    qpdf: '/usr/bin/qpdf',
  }
  const missing = Object.entries(needed)
    .filter(([, file]) => !existsSync(file))
    .map(([name]) => name)
  if (missing.length === 0) return
  if (installPackages(missing)) return
  console.error(
    `The tests need these Debian packages: ${missing.join(' ')}. Install them with\n  sudo apt-get install ${missing.join(' ')}`,
  )
  process.exit(1)
}

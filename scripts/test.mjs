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
const built = checked.then(({ well }) => {
  if (well) build(env)
  return well
})
// Each part of the browser tests; five rounds of the campaign, in which all kinds of processes are killed, and the clock
// is turned; and some of the use cases on PostgreSQL, where it is installed.
const waiting = [() => browserTests('3'), () => browserTests('1'), () => browserTests('2'), shortCampaign, onPostgres]
const browser = []
const notRun = { well: false, said: 'It was not run.' }
let [campaign, postgres] = [notRun, notRun]
await Promise.all(
  [built, Promise.all([built, tested]).then(([builtWell]) => builtWell)].map(async (ready) => {
    if (!(await ready)) return
    for (let part = waiting.shift(); part; part = waiting.shift()) await part()
  }),
)
const steps = [
  { name: 'format, lint, types, unused parts', ...(await checked) },
  { name: 'unit tests', well: await tested },
  ...browser,
  { name: 'the short campaign', ...campaign },
  { name: 'use cases on PostgreSQL', ...postgres },
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
  const jest = async (file, ...more) => {
    const words = ['--forceExit', '--json', `--outputFile=${file}`, ...more]
    return (await node('inherit', 'node_modules/jest/bin/jest.js', ...words)).well
  }
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
async function browserTests(part) {
  const file = join(reports, `browser-${part}.json`)
  const env = { PLAYWRIGHT_JSON_OUTPUT_NAME: file, PLAYWRIGHT_FORCE_TTY: '0', GHARRY_PART: part }
  const { well, said } = await node({ env }, 'node_modules/@playwright/test/cli.js', 'test')
  console.log(`Browser tests, part ${part}:\n${said}`)
  browser.push({ name: `browser tests, part ${part}`, well, file })
}

/**
 * Works, kills and compares the books; `npm run campaign` does so for longer. One that could not be carried out on a
 * busy machine is begun once more; books that differ are not looked at twice.
 */
async function shortCampaign() {
  const short = ['--rounds', '5', '--misfortunes', '4', '--seed', '8']
  for (let tries = 0; tries < 2; tries++) {
    campaign = await node({}, 'scripts/campaign.mjs', '--built', ...short)
    console.log(`The short campaign:\n${campaign.said}`)
    if (campaign.status !== 3) return
  }
}

/** `npm run test:postgres` does so with all use cases. */
async function onPostgres() {
  if (postgresPrograms() === null) {
    console.log('PostgreSQL is not installed: nothing was tried on it. npm run test:postgres installs it where it may.')
    postgres = { well: true, said: '' }
    return
  }
  const some = ['engines', 'many', 'shipments'].map((name) => `tests/${name}\\.test`)
  postgres = await node({}, 'scripts/test-postgres.mjs', ...some)
  console.log(`Use cases on PostgreSQL:\n${postgres.said}`)
}

/**
 * A program of Node, with the plain environment and more. What it says is kept until it has ended, so that programs
 * which go on at the same time are not mixed; 'inherit' shows it at once, and keeps nothing.
 */
function node(how, program, ...args) {
  const stdio = how === 'inherit' ? how : 'pipe'
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1', ...how.env }
  const child = spawn('node', [program, ...args], { env, stdio: ['ignore', stdio, stdio] })
  running.add(child)
  const said = []
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (data) => said.push(data))
  return new Promise((resolve) => {
    child.on('close', (status) => resolve({ well: status === 0, status, said: String(Buffer.concat(said)) }))
  })
}

/** Programs one after the other, whose lines are shown when one fails. */
async function beside(programs) {
  for (const [program, ...args] of programs) {
    const { well, said } = await node({}, `node_modules/${program}`, ...args)
    if (well) continue
    console.log(`${program} failed.\n${said}`)
    return { well, said }
  }
  return { well: true, said: '' }
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

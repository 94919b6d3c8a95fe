/* npm test: installs what is missing, then format, lint, types, unused parts, unit tests, build and browser tests. */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { build, environment, install, nodeIsNewEnough } from './environment.mjs'

if (!nodeIsNewEnough()) process.exit(1)
install()
programs()
const env = environment()
const reports = mkdtempSync(join(tmpdir(), 'gharry-tests-'))
// The unit tests leave a processor free for all that reads the source.
const checked = beside([
  ['prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'],
  ['eslint/bin/eslint.js', '.', '--max-warnings', '0'],
  ['typescript/bin/tsc', '--noEmit'],
  ['knip/bin/knip.js', '--no-config-hints'],
])
const tested = one('inherit', 'jest/bin/jest.js', '--json', `--outputFile=${reports}/jest.json`)
if (!(await Promise.all([checked, tested])).every(Boolean)) process.exit(1)
build(env)
const halves = await Promise.all(['1', '2'].map(browserTests))
if (halves.some(({ failed }) => failed)) process.exit(1)

const jest = JSON.parse(readFileSync(join(reports, 'jest.json'), 'utf8'))
const browser = halves.map(({ report }) => JSON.parse(readFileSync(report, 'utf8')).stats)
const sum = (name) => browser.reduce((total, stats) => total + stats[name], 0)
console.log(
  `${jest.numPassedTests + sum('expected') + sum('flaky')} passed, ${jest.numFailedTests + sum('unexpected')} failed`,
)

/**
 * One half of the browser tests, with a demo, ports and data of its own: they have the plain environment. What it says is printed
 * when it is done, so that the two are not mixed.
 */
function browserTests(half) {
  const report = join(reports, `browser-${half}.json`)
  const env = {
    ...process.env,
    NEXT_TELEMETRY_DISABLED: '1',
    PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    PLAYWRIGHT_FORCE_TTY: '0',
    GHARRY_HALF: half,
  }
  const child = spawn('node', ['node_modules/@playwright/test/cli.js', 'test'], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  const said = []
  child.stdout.on('data', (data) => said.push(data))
  child.stderr.on('data', (data) => said.push(data))
  return new Promise((resolve) => {
    child.on('close', (status) => {
      process.stdout.write(`Browser tests, half ${half}:\n${Buffer.concat(said)}`)
      resolve({ failed: status !== 0, report })
    })
  })
}

/** One program of node_modules; whether it went well. */
function one(stdio, program, ...args) {
  const child = spawn('node', [`node_modules/${program}`, ...args], { stdio: ['ignore', stdio, stdio] })
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
  if (process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')) {
    console.log(`Installing ${missing.join(', ')} …`)
    const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } }
    spawnSync('apt-get', ['update', '-q'], quiet)
    if (spawnSync('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...missing], quiet).status === 0) return
  }
  console.error(
    `The tests need these Debian packages: ${missing.join(' ')}. Install them with\n  sudo apt-get install ${missing.join(' ')}`,
  )
  process.exit(1)
}

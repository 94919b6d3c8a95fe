/* What the reports of the test programs say: how many passed, and, at the very end, each test that failed and why. */
import { existsSync, readFileSync } from 'node:fs'
import { relative } from 'node:path'
import { stripVTControlCharacters } from 'node:util'

/** Enough of a failure to see what it is; the rest stands above, where the test ran. */
const LINES = 30

/**
 * The unit tests' report, after a second look of the files that failed.
 * `again` is the report of that second look, where there was one: what passes in it counts as passed late.
 */
export function unitTests(first, again) {
  const report = read(first)
  if (report === null) return nothing('the unit tests wrote no report')
  const second = again ? read(again) : null
  const failed = failedOf(report)
  const stillFailed = second ? failedOf(second) : failed
  const names = new Set(stillFailed.map(({ name }) => name))
  const late = failed.filter(({ name }) => !names.has(name))
  return { passed: report.numPassedTests + late.length, failed: stillFailed, late: late.map(({ name }) => name) }
}

/** The files of the unit tests that did not pass. */
export function failedFiles(file) {
  return (read(file)?.testResults ?? []).filter(({ status }) => status === 'failed').map(({ name }) => name)
}

/** A part of the browser tests. */
export function browserTests(file) {
  const report = read(file)
  if (report === null) return nothing(`the browser tests wrote no report (${file})`)
  const tests = specsOf(report).map(({ title, file: of, line, tests }) => ({
    name: `e2e/${of}:${line} › ${title}`,
    status: tests[0]?.status,
    results: tests[0]?.results ?? [],
  }))
  const failed = tests
    .filter(({ status }) => status === 'unexpected')
    .map(({ name, results }) => ({
      name,
      why: results.map(({ error }) => error?.message).join('\nAt the second try:\n'),
    }))
  const general = (report.errors ?? []).map(({ message }) => ({ name: 'before any browser test', why: message }))
  return {
    passed: report.stats.expected + report.stats.flaky,
    failed: [...general, ...failed],
    late: tests.filter(({ status }) => status === 'flaky').map(({ name }) => name),
  }
}

/** The last lines of a run: nobody has to look for what failed in what was printed in an hour. */
export function summary(parts, steps) {
  const passed = parts.reduce((total, { passed }) => total + passed, 0)
  const failed = parts.flatMap(({ failed }) => failed)
  const late = parts.flatMap(({ late }) => late)
  const lines = failed.flatMap(({ name, why }) => [`✘ ${name}`, shortened(why), ''])
  lines.push(...late.map((name) => `Passed at the second try only: ${name}`))
  for (const { name, said } of steps.filter(({ well }) => !well))
    lines.push(`Did not go well, or was not run: ${name}`, ...(said ? [ended(said)] : []))
  lines.push(`${passed} passed, ${failed.length} failed`)
  return lines.join('\n')
}

function failedOf({ testResults }) {
  return testResults.flatMap(({ name: file, message, status, assertionResults }) => {
    const tests = assertionResults
      .filter((test) => test.status === 'failed')
      .map((test) => ({ name: `${relative(process.cwd(), file)} › ${test.fullName}`, why: test.failureMessages[0] }))
    return tests.length === 0 && status === 'failed' ? [{ name: relative(process.cwd(), file), why: message }] : tests
  })
}

function specsOf({ suites }) {
  return (suites ?? []).flatMap((suite) => [...(suite.specs ?? []), ...specsOf(suite)])
}

const shortened = (why) => indented(plainLines(why).slice(0, LINES))

/** What a program said last. */
const ended = (said) => indented(plainLines(said.trimEnd()).slice(-LINES))

const plainLines = (text) =>
  stripVTControlCharacters(text ?? '')
    .split('\n')
    .filter((line) => !/^\s+at .*node_modules/.test(line))
const indented = (lines) => lines.map((line) => `    ${line.slice(0, 300)}`).join('\n')

function nothing(why) {
  return { passed: 0, failed: [{ name: why, why: '' }], late: [] }
}

function read(file) {
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null
}

/* The tests of the use cases under other circumstances: all of them, or those that patterns name, but for some. */
import { spawnSync } from 'node:child_process'

/** Runs them with more words for the test program and more environment; gives the exit code. */
export function useCaseTests({ patterns, without, more = [], env }) {
  const { status } = spawnSync(
    'node',
    [
      ...['node_modules/jest/bin/jest.js', '--forceExit'],
      ...(patterns.length > 0 ? patterns : ['src/usecases/tests']),
      ...more,
      ...['--testPathIgnorePatterns', ...without.map((name) => `tests/${name}\\.test`)],
    ],
    { stdio: 'inherit', env: { ...process.env, ...env } },
  )
  return status ?? 1
}

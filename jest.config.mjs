/** Unit tests and use-case tests; the browser tests are Playwright's, in e2e/. */
export default {
  testEnvironment: 'node',
  roots: [
    '<rootDir>/src',
    '<rootDir>/standins',
    '<rootDir>/demo',
    '<rootDir>/cli',
    '<rootDir>/reference',
    '<rootDir>/campaign',
  ],
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: {
    '^.+\\.(t|j|mj)sx?$': [
      '@swc/jest',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
      },
    ],
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(any-ascii|bwip-js|csv-parse|culori|d3-array|d3-geo|fast-check|internmap|intl-messageformat|nuqs|@formatjs|oauth4webapi|preact|use-intl)/)',
  ],
  // A test that hangs is ended; it is no measure of speed: machines that many share go at a tenth of theirs at times.
  testTimeout: 300_000,
}

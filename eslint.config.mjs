import boundaries from 'eslint-plugin-boundaries'
import regexp from 'eslint-plugin-regexp'
import tseslint from 'typescript-eslint'

/** The rooms of the house, top to bottom: a room imports from itself and from those below it. */
const rooms = ['app', 'ui', 'usecases', 'data', 'adapters', 'core']
const may = (room, others) => ({ from: { element: { type: room } }, allow: [{ to: { element: { type: others } } }] })
const below = (room) => rooms.slice(rooms.indexOf(room))

export default tseslint.config(
  {
    ignores: [
      'node_modules',
      '.next',
      '.built',
      'bench/node_modules',
      'data',
      'next-env.d.ts',
      'test-results',
      'playwright-report',
    ],
  },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    plugins: { boundaries, regexp },
    settings: {
      'import/resolver': { typescript: { alwaysTryTypes: true } },
      'boundaries/include': [
        'src/**/*',
        'cli/**/*',
        'standins/**/*',
        'demo/**/*',
        'bench/**/*',
        'e2e/**/*',
        'scripts/**/*',
        'reference/**/*',
        'campaign/**/*',
      ],
      'boundaries/elements': [
        ...rooms.map((room) => ({ type: room, pattern: `src/${room}`, partialMatch: false })),
        ...['cli', 'standins', 'demo', 'bench', 'e2e', 'scripts', 'reference', 'campaign'].map((room) => ({
          type: room,
          pattern: room,
          partialMatch: false,
        })),
      ],
    },
    rules: {
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            ...rooms.map((room) => may(room, below(room))),
            may('cli', ['cli', 'usecases', 'core']),
            may('standins', ['standins', 'core', 'demo']),
            may('demo', ['demo', 'standins', 'usecases', 'data', 'adapters', 'core']),
            may('bench', ['bench', 'demo', 'standins', 'usecases', 'data', 'adapters', 'core', 'ui']),
            may('reference', ['reference', 'standins', 'core']),
            may('campaign', ['campaign', 'reference', 'demo', 'standins', 'data', 'core']),
            ...['e2e', 'scripts'].map((room) => may(room, ['e2e', 'scripts', 'standins', 'demo', 'core'])),
          ],
        },
      ],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      'no-restricted-syntax': [
        'error',
        {
          selector: 'ImportDeclaration[source.value=/^@\\u002Fcore\\u002F[a-z]+\\u002F/]',
          message: 'Import a core folder by its index, not past it.',
        },
      ],
      eqeqeq: 'error',
      // An expression that takes more than linear time on some text is a way to stop the server.
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential', ignoreSticky: false }],
    },
  },
  // Tests may reach everything: use cases are tried against the stand-ins.
  {
    files: ['**/*.test.ts', '**/*.test-help.ts', 'src/usecases/tests/*.ts'],
    rules: { 'boundaries/dependencies': 'off' },
  },
  // Nobody sends texts to tests and to the demo's generator.
  {
    files: ['**/*.test.ts', 'e2e/**', 'demo/**', 'bench/**', 'reference/**', 'campaign/**'],
    rules: { 'regexp/no-super-linear-backtracking': 'off', 'regexp/no-super-linear-move': 'off' },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts', '**/*.test-help.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['node:*', 'react', 'react-dom', 'knex', 'next', 'next/*'],
              message: 'The core is pure: no I/O, no React, no database.',
            },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'process',
        'fetch',
        'setTimeout',
        'setInterval',
        'window',
        'document',
        'Buffer',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'The core has no clock: pass the time in.' },
        { object: 'Math', property: 'random', message: 'The core has no randomness.' },
      ],
    },
  },
)

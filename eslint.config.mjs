import boundaries from 'eslint-plugin-boundaries'
import imports from 'eslint-plugin-import-x'
import reactHooks from 'eslint-plugin-react-hooks'
import regexp from 'eslint-plugin-regexp'
import tseslint from 'typescript-eslint'

/** The rooms of the house, top to bottom: a room imports from itself and from those below it. */
const rooms = ['app', 'ui', 'usecases', 'data', 'adapters', 'core']
const besides = ['cli', 'standins', 'demo', 'bench', 'e2e', 'scripts', 'reference', 'campaign']
const may = (room, others) => ({ from: { element: { type: room } }, allow: [{ to: { element: { type: others } } }] })
const below = (room) => rooms.slice(rooms.indexOf(room))

/**
 * All that the core may import from outside: computing and tables, nothing that reads, writes, waits or knows the time.
 */
const coreMay = [
  '@fragaria/address-formatter',
  'js-yaml',
  'any-ascii',
  'bwip-js',
  'countries-list',
  'culori',
  'i18n-iso-countries',
  'liquidjs',
  'libphonenumber-js',
  'gs1-barcode-parser-mod',
  'luxon',
  'postcode-validator',
  'sms-segments-calculator',
  'yaml',
  'zod',
]

const tests = ['**/*.test.ts', '**/*.test.tsx', '**/*.test-help.ts', 'src/usecases/tests/*.ts']

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
    extends: [...tseslint.configs.recommendedTypeCheckedOnly],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    plugins: { boundaries, regexp, imports },
    settings: {
      'import/resolver': { typescript: { alwaysTryTypes: true } },
      'import-x/resolver': { typescript: { alwaysTryTypes: true } },
      'boundaries/include': ['src/**/*', ...besides.map((room) => `${room}/**/*`)],
      'boundaries/dependency-nodes': ['import', 'dynamic-import', 'export', 'require'],
      'boundaries/elements': [
        ...rooms.map((room) => ({ type: room, pattern: `src/${room}`, partialMatch: false })),
        ...besides.map((room) => ({ type: room, pattern: room, partialMatch: false })),
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
            may('campaign', ['campaign', 'reference', 'demo', 'standins', 'usecases', 'data', 'core']),
            ...['e2e', 'scripts'].map((room) => may(room, ['e2e', 'scripts', 'standins', 'demo', 'core'])),
          ],
        },
      ],
      'imports/no-cycle': 'error',
      'imports/no-duplicates': ['error', { 'prefer-inline': true }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      'no-restricted-syntax': [
        'error',
        {
          selector:
            ':matches(ImportDeclaration, ExportNamedDeclaration, ExportAllDeclaration)[source.value=/core\\u002F(?:rulebook\\u002F)?[a-z]+\\u002F(?!.*test-help)(?!(?:language|compile|decide|bulk|findings|change)$)/]',
          message: 'Import a room of the core by its face, not past it.',
        },
        { selector: 'ExportAllDeclaration', message: 'Say by name what leaves a room.' },
        {
          selector:
            "JSXOpeningElement[name.name='Button'] > JSXAttribute[name.name='onClick'] > JSXExpressionContainer > ArrowFunctionExpression > UnaryExpression[operator='void']",
          message: 'Give back the promise: the button takes no other click until it is settled.',
        },
      ],
      complexity: ['error', { max: 28, variant: 'modified' }],
      eqeqeq: 'error',
      'no-nested-ternary': 'error',
      // An expression that takes more than linear time on some text is a way to stop the server.
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential', ignoreSticky: false }],
    },
  },
  {
    files: ['src/**/*.tsx', 'src/ui/**/*.ts'],
    extends: [reactHooks.configs.flat.recommended],
    rules: {
      // Workers, the browser's store and the address are read when a part appears, which is where an effect belongs.
      'react-hooks/set-state-in-effect': 'off',
      // The list that draws only what is seen is not made for the compiler, which is not in use.
      'react-hooks/incompatible-library': 'off',
    },
  },
  // Tests may reach everything: use cases are tried against the stand-ins.
  { files: tests, rules: { 'boundaries/dependencies': 'off', '@typescript-eslint/require-await': 'off' } },
  // Nobody sends texts to tests and to the demo's generator.
  {
    files: ['**/*.test.ts', 'e2e/**', 'demo/**', 'bench/**', 'reference/**', 'campaign/**'],
    rules: { 'regexp/no-super-linear-backtracking': 'off', 'regexp/no-super-linear-move': 'off' },
  },
  // Knex gives rows as `any`: each query says what its rows are, and the data room maps them.
  {
    files: ['src/data/**', 'campaign/**', 'src/usecases/tests/**'],
    rules: {
      '@typescript-eslint/no-unnecessary-type-assertion': 'off',
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
    },
  },
  // A function for one stage, decision or fact after the other, to be read beside the documents.
  {
    files: ['reference/**', '**/*.test-help.ts', 'standins/carrier/price.ts'],
    rules: { complexity: 'off', 'no-nested-ternary': 'off' },
  },
  {
    files: ['src/ui/**/*.ts', 'src/ui/**/*.tsx'],
    ignores: tests,
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: 'usecases/',
              allowTypeImports: true,
              message: 'The interface talks to the server; of use cases it knows the types.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: tests,
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: `^(?!\\.{1,2}/|@/core/|(?:${coreMay.join('|')})(?:/|$))`,
              message: 'The core is pure computing: this package is not among those it may use (eslint.config.mjs).',
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
        'console',
        'crypto',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'The core has no clock: pass the time in.' },
        { object: 'Math', property: 'random', message: 'The core has no randomness.' },
      ],
    },
  },
)

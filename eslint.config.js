import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

/**
 * One direction of imports: web → (HTTP) → server → core; cli → core and server. Inside the core: model and formats
 * know nothing of the rest; store knows model; save knows store and sandbox; the engine strings all together.
 */
const forbid = (files, patterns) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: patterns.map(([group, message]) => ({ group, message, allowTypeImports: false })) },
    ],
  },
})
const up = 'Imports go one way: see docs/architecture.md.'
/** Later blocks replace earlier ones for the same file, so each names all that is forbidden there. */
const OUTSIDE_CORE = [
  '@patient-hook/server',
  '@patient-hook/web',
  'patient-hook',
  'express',
  'vue',
  'vuetify',
  '**/server/**',
  '**/web/**',
  '**/cli/**',
]
const inCore = (folders, above) =>
  forbid([`packages/core/src/${folders}/**/*.ts`], [[[...OUTSIDE_CORE, ...above.map((each) => `**/${each}/**`)], up]])

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', 'demo/plugins/**', 'coverage/**', '.patient-hook/**', 'test-results/**'] },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/essential'],
  {
    files: ['**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser } },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'vue/multi-word-component-names': 'off',
    },
  },
  {
    files: ['packages/*/src/**/*.ts', 'packages/web/src/**/*.vue'],
    rules: { '@typescript-eslint/no-explicit-any': 'error', 'no-console': 'error' },
  },
  forbid(['packages/core/**/*.ts'], [[OUTSIDE_CORE, up]]),
  inCore('model', ['store', 'save', 'sandbox', 'engine', 'prove', 'rehearse', 'findings', 'language']),
  inCore('{store,sandbox,language,findings}', ['save', 'engine', 'prove', 'rehearse']),
  inCore('save', ['engine', 'prove', 'rehearse']),
  forbid(
    ['packages/server/**/*.ts'],
    [
      [
        [
          '@patient-hook/web',
          'patient-hook',
          'vue',
          '**/web/**',
          '**/cli/**',
          '@patient-hook/core/**',
          '**/core/src/**',
          'better-sqlite3',
        ],
        up,
      ],
    ],
  ),
  forbid(['packages/cli/**/*.ts'], [[['@patient-hook/web', 'vue', '**/web/**', '**/core/src/**', '**/server/src/**'], up]]),
  forbid(
    ['packages/web/**/*.ts', 'packages/web/**/*.vue'],
    [[['@patient-hook/server', 'patient-hook', 'express', 'better-sqlite3', '**/server/**', '**/cli/**', '**/core/src/**'], up]],
  ),
)

import { createNodeResolver, importX } from 'eslint-plugin-import-x'
import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

/**
 * One direction of imports: web → contract; server → core and contract; cli → server, core and contract; core → contract. Within the
 * core each folder knows only those before it in CORE, types included; no file leads back to itself.
 */
const forbid = (files, patterns, exactly = []) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: patterns.map(([group, message]) => ({ group, message, allowTypeImports: false })),
        paths: exactly.map((name) => ({ name, message: up })),
      },
    ],
  },
})
const up = 'Imports go one way: see docs/architecture.md.'
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
/** From the bottom up; folders on one line do not import each other. */
const CORE = [
  ['errors'],
  ['formats', 'disk'],
  ['model'],
  ['entry'],
  ['store', 'findings', 'recipes', 'adopt'],
  ['language'],
  ['sandbox'],
  ['save'],
  ['rehearse', 'prove'],
  ['release', 'backfill'],
  ['engine'],
]
/** Later blocks replace earlier ones for the same file, so each names all that is forbidden there. */
const layers = CORE.flatMap((level, index) =>
  level.map((folder) => {
    const above = [...level.filter((each) => each !== folder), ...CORE.slice(index + 1).flat()]
    // store and the code readers are siblings; neither imports the other.
    const beside = folder === 'store' ? ['language', 'sandbox'] : folder === 'language' || folder === 'sandbox' ? ['store'] : []
    return forbid(
      [`packages/core/src/${folder}/**/*.ts`],
      [[[...OUTSIDE_CORE, ...[...new Set([...above, ...beside])].map((each) => `**/${each}/**`)], up]],
    )
  }),
)
const noCircles = {
  files: ['packages/{contract,core,server,cli}/src/**/*.ts'],
  plugins: { 'import-x': importX },
  settings: {
    'import-x/resolver-next': [createNodeResolver({ extensions: ['.ts', '.js'], extensionAlias: { '.js': ['.ts', '.js'] } })],
    'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] },
    'import-x/extensions': ['.ts'],
  },
  rules: { 'import-x/no-cycle': 'error' },
}

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
    // Controls are Vuetify's. The grid and the code editor draw their own.
    files: ['packages/web/src/**/*.vue'],
    ignores: ['packages/web/src/components/grid/**', 'packages/web/src/components/editor/**'],
    rules: {
      'vue/no-restricted-html-elements': [
        'error',
        ...['button', 'input', 'select', 'textarea', 'table', 'dialog', 'details'].map((element) => ({
          element,
          message: 'Use the component of Vuetify, or the grid in components/grid/.',
        })),
      ],
    },
  },
  {
    files: ['packages/*/src/**/*.ts', 'packages/web/src/**/*.vue'],
    rules: { '@typescript-eslint/no-explicit-any': 'error', 'no-console': 'error' },
  },
  forbid(['packages/core/**/*.ts'], [[OUTSIDE_CORE, up]]),
  ...layers,
  noCircles,
  forbid(['packages/contract/**/*.ts'], [[[...OUTSIDE_CORE, '@patient-hook/core', '**/core/**'], up]]),
  forbid(
    ['packages/server/src/**/*.ts'],
    [
      [
        [
          '@patient-hook/web',
          'patient-hook',
          'vue',
          '**/web/**',
          '**/cli/**',
          '@patient-hook/core/**',
          // Engines seen from outside, and nothing that is slow to load.
          '!@patient-hook/core/workbench',
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
    // The parts of the core that know no server are named one at a time: language, findings, recipes, table-edit.
    ['@patient-hook/core'],
  ),
)

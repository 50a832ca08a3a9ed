import { HookError } from '../../errors.js'
import { importedPaths } from '../../model/imports.js'
import { counted, pluginNamed, type Planner } from './change.js'

/** Library modules and unit tests are made and go; fixture sets go. */

const MODULE = (name: string): string =>
  `/** What ${name} is for. */\nexport function ${camel(name)}(value: number): number {\n  return value\n}\n`

const TEST = (table: string): string => `import { expect, test } from 'patient-hook/test'

// Take .skip away once it says what is expected.
test.skip('a new record', ({ save }) => {
  expect(save('${table}', {}).id).toBe(1)
})
`

const camel = (name: string): string => name.replace(/-([a-z0-9])/g, (_, letter: string) => letter.toUpperCase())

export const makeFile: Planner<'make-file'> = (project, { plugin, folder, name }) => {
  pluginNamed(project, plugin)
  const file = `plugins/${plugin}/${folder}/${name}${folder === 'tests' ? '.test.ts' : '.ts'}`
  if (project.files.has(file)) throw new HookError('code/taken', { what: 'file', name: file })
  const [table = ''] = project.tables.keys()
  return { files: { [file]: folder === 'lib' ? MODULE(name) : TEST(table) }, steps: [`${file} is made.`], notices: [] }
}

export const removeFile: Planner<'remove-file'> = (project, { file }) => {
  if (!/^plugins\/[^/]+\/(lib|tests)\//.test(file) || !project.files.has(file))
    throw new HookError('code/unknown', { what: 'module or test', name: file, hint: '' })
  const users = [...project.files].filter(
    ([path, text]) =>
      path !== file &&
      path.endsWith('.ts') &&
      [...text.matchAll(/\bfrom\s+['"](\.[^'"]+)['"]/g)].some(([, name]) => importedPaths(path, name!)?.includes(file)),
  )
  if (users.length > 0)
    throw new HookError('code/bad', {
      file,
      detail: `${file} is imported by ${users.map(([path]) => path).join(', ')}: let them not, first`,
    })
  return { files: { [file]: null }, steps: [`${file} goes.`], notices: [] }
}

export const removeFixtures: Planner<'remove-fixtures'> = (project, { set }) => {
  const own = [...project.files.keys()].filter((path) => path.startsWith(`fixtures/${set}/`))
  if (own.length === 0) throw new HookError('code/unknown', { what: 'fixture set', name: set, hint: '' })
  const named = new RegExp(`fixtures:\\s*['"\`]${set.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}['"\`]`)
  const tests = [...project.files].filter(([path, text]) => path.endsWith('.test.ts') && named.test(text)).map(([path]) => path)
  return {
    files: Object.fromEntries(own.map((path) => [path, null])),
    steps: [`${counted(own.length, 'file goes', 'files go')}.`],
    notices: tests.map((path) => `${path} starts from it: its tests fail without it.`),
  }
}

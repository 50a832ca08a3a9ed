import type { GateRule } from '../gate.js'

/** Every unit test of the project passes, and a plugin that has hooks has some. */
export const tests: GateRule = {
  what: 'tests',
  needsLoading: true,
  look: ({ plugin, hooks, tests: all }) => {
    const failed = all.filter(({ status }) => status === 'failed').map(({ file, name }) => `${file}: ${name} failed`)
    const own = all.some(({ file, status }) => status === 'passed' && file.startsWith(`plugins/${plugin}/`))
    return own || failed.length > 0 || hooks.length === 0 ? failed : [`no unit test of ${plugin} passes: it has none that runs`]
  },
  says: ({ tests: all }) => {
    const skipped = all.filter(({ status }) => status === 'skipped').length
    const passed = all.filter(({ status }) => status === 'passed').length
    return `${passed} passed${skipped > 0 ? `, ${skipped} skipped` : ''}`
  },
}

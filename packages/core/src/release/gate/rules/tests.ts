import { isOf, type GateRule } from '../rule.js'

/** Every unit test of the project passes, and a plugin that has hooks has some. */
export const tests: GateRule = {
  what: 'tests',
  needsLoading: true,
  look: (evidence) => {
    const { plugins, hooks, tests: all } = evidence
    const failed = all.filter(({ status }) => status === 'failed').map(({ file, name }) => `${file}: ${name} failed`)
    const own = all.some(({ file, status }) => status === 'passed' && isOf(evidence, file))
    return own || failed.length > 0 || hooks.length === 0
      ? failed
      : [`no unit test of ${plugins.join(' or ')} passes: there is none that runs`]
  },
  says: ({ tests: all }) => {
    const skipped = all.filter(({ status }) => status === 'skipped').length
    const passed = all.filter(({ status }) => status === 'passed').length
    return `${passed} passed${skipped > 0 ? `, ${skipped} skipped` : ''}`
  },
}

import type { GateRule } from '../gate.js'

/** No finding of level error in the plugin, nor in a table: what only warns does not stop a release. */
export const findings: GateRule = {
  what: 'findings',
  needsLoading: false,
  look: ({ plugin, findings: all }) =>
    all
      .filter(({ rule, severity }) => severity === 'error' && !/^TS\d+$/.test(rule))
      .filter(({ file }) => file.startsWith(`plugins/${plugin}/`) || file.startsWith('tables/'))
      .map(({ file, line, message, rule }) => `${file}:${line}: ${message} (${rule})`),
  says: ({ plugin, findings: all }) => {
    const warnings = all.filter(({ file, severity }) => severity === 'warning' && file.startsWith(`plugins/${plugin}/`)).length
    return warnings === 0 ? 'no known trap' : `no known trap of level error; ${warnings} that warn`
  },
}

import { isOf, type GateRule } from '../rule.js'

/** No finding of level error in the plugins, nor in a table: what only warns does not stop a release. */
export const findings: GateRule = {
  what: 'findings',
  needsLoading: false,
  needsFindings: true,
  look: (evidence) =>
    (evidence.findings ?? [])
      .filter(({ rule, severity }) => severity === 'error' && !/^TS\d+$/.test(rule))
      .filter(({ file }) => isOf(evidence, file) || file.startsWith('tables/'))
      .map(({ file, line, message, rule }) => `${file}:${line}: ${message} (${rule})`),
  says: (evidence) => {
    const warnings = (evidence.findings ?? []).filter(({ file, severity }) => severity === 'warning' && isOf(evidence, file))
    return warnings.length === 0
      ? 'no findings'
      : `no errors, ${warnings.length} ${warnings.length === 1 ? 'warning' : 'warnings'}`
  },
}

import type { CodeFinding } from '@patient-hook/contract'
import type { GateRule } from '../gate.js'

/** TypeScript finds no error in the plugin's code. */
export const types: GateRule = {
  what: 'types',
  needsLoading: false,
  look: ({ plugin, findings }) =>
    findings
      .filter((finding) => isTypeError(finding) && finding.file.startsWith(`plugins/${plugin}/`))
      .map(({ file, line, message, rule }) => `${file}:${line}: ${message} (${rule})`),
  says: () => 'no error of types',
}

const isTypeError = ({ rule, severity }: CodeFinding): boolean => /^TS\d+$/.test(rule) && severity === 'error'

import type { CodeFinding } from '@patient-hook/contract'
import { isOf, type GateRule } from '../rule.js'

/** TypeScript finds no error in the code of the plugins. */
export const types: GateRule = {
  what: 'types',
  needsLoading: false,
  needsFindings: true,
  look: (evidence) =>
    (evidence.findings ?? [])
      .filter((finding) => isTypeError(finding) && isOf(evidence, finding.file))
      .map(({ file, line, message, rule }) => `${file}:${line}: ${message} (${rule})`),
  says: () => 'no type errors',
}

const isTypeError = ({ rule, severity }: CodeFinding): boolean => /^TS\d+$/.test(rule) && severity === 'error'

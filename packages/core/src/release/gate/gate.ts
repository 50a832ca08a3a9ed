import type { BulkVerdict, CodeFinding, TestResult } from '@patient-hook/contract'
import { bulk } from './rules/bulk.js'
import { findings } from './rules/findings.js'
import { tests } from './rules/tests.js'
import { types } from './rules/types.js'

/** What stands between the working copy of a plugin and its release: each rule looks at what was measured of exactly that text. */

export interface Evidence {
  plugin: string
  /** Of the whole project. */
  findings: readonly CodeFinding[]
  /** Of the whole project: a plugin may break the tests of another. */
  tests: readonly TestResult[]
  /** Of the plugin's hooks. */
  verdicts: readonly BulkVerdict[]
}

export interface GateRule {
  what: string
  /** @returns what does not hold, one line each; none where it holds */
  look(evidence: Evidence): string[]
  /** In words, where it holds. */
  says(evidence: Evidence): string
}

export interface GateResult {
  what: string
  holds: boolean
  detail: string
}

/** A new rule is a file of its own, added here. */
export const GATE: readonly GateRule[] = [types, findings, tests, bulk]

/** Troubles of one rule that are told. */
const MOST = 10

export function passGate(evidence: Evidence): GateResult[] {
  return GATE.map((rule) => {
    const troubles = rule.look(evidence)
    const more = troubles.length > MOST ? [`and ${troubles.length - MOST} more`] : []
    const detail = troubles.length === 0 ? rule.says(evidence) : [...troubles.slice(0, MOST), ...more].join('\n')
    return { what: rule.what, holds: troubles.length === 0, detail }
  })
}

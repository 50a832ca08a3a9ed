import type { BulkVerdict, CodeFinding, GateResult, GateRuleName, ReleaseCoverage, TestResult } from '@patient-hook/contract'
import type { GateSettings } from '../../model/types.js'
import { bulk } from './rules/bulk.js'
import { coverage } from './rules/coverage.js'
import { findings } from './rules/findings.js'
import { model } from './rules/model.js'
import { tests } from './rules/tests.js'
import { types } from './rules/types.js'

/** What stands between working copies and their release: each rule looks at what was measured of exactly that text. */

/** Does the file belong to one of the plugins? */
export const isOf = ({ plugins }: Evidence, file: string): boolean =>
  plugins.some((plugin) => file.startsWith(`plugins/${plugin}/`))

export interface Evidence {
  plugins: readonly string[]
  /** Their hooks. */
  hooks: readonly string[]
  /** Why the text cannot be loaded with the tables as they are; none where it can. */
  faults: readonly string[]
  /** Of the whole project; null where its files could not be read. */
  findings: readonly CodeFinding[] | null
  /** Of the whole project: a plugin may break the tests of another. */
  tests: readonly TestResult[]
  /** Of these hooks. */
  coverage: ReleaseCoverage
  /** What is live now, to be compared with; null where nothing is, or it was not measured. */
  before: { version: string; coverage: ReleaseCoverage } | null
  /** The least coverage that is asked for, in per cent; null: only that it does not fall. */
  least: number | null
  /** Of these hooks. */
  verdicts: readonly BulkVerdict[]
}

export interface GateRule {
  what: GateRuleName
  /** Only a text that can be loaded has it. */
  needsLoading: boolean
  /** It looks at what is found by reading the code. */
  needsFindings?: boolean
  /** @returns what does not hold, one line each; none where it holds */
  look(evidence: Evidence): string[]
  /** In words, where it holds. */
  says(evidence: Evidence): string
}

/** In the order in which they are looked at. A new rule is a file of its own, added here and to GATE_RULES of the contract. */
export const GATE: Readonly<Record<GateRuleName, GateRule>> = { model, types, findings, tests, coverage, bulk }

/** Troubles of one rule that are told. */
const MOST = 10

export function lookAt(name: GateRuleName, evidence: Evidence, settings: GateSettings): GateResult {
  const rule = GATE[name]
  if (settings[name] === false) return { what: name, holds: true, detail: 'not asked for (gate in project.json)' }
  if (evidence.faults.length > 0 && (rule.needsLoading || (rule.needsFindings && evidence.findings === null)))
    return { what: name, holds: false, detail: 'it could not be looked at: the text cannot be loaded' }
  const troubles = rule.look(evidence)
  const more = troubles.length > MOST ? [`and ${troubles.length - MOST} more`] : []
  const detail = troubles.length === 0 ? rule.says(evidence) : [...troubles.slice(0, MOST), ...more].join('\n')
  return { what: name, holds: troubles.length === 0, detail }
}

import type { BulkVerdict, CodeFinding, GateRuleName, ReleaseCoverage, TestResult } from '@patient-hook/contract'

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

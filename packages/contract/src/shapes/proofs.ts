import { z } from 'zod'
import { bulkVerdict, type BulkVerdict } from './bulk.js'
import { coverageResult, type CoverageResult } from './coverage.js'
import { codeFinding, type CodeFinding } from './findings.js'
import { mutantResult, type MutantResult } from './mutants.js'

/** What is proved of the code, part by part, and kept for as long as the code is the same. */

/** By part: what it reports, and of whom one result speaks: a fresh one takes the place of those that spoke of the same. */
export const PROOFS = {
  findings: { result: codeFinding, of: (_: CodeFinding) => '' },
  coverage: { result: coverageResult, of: (_: CoverageResult) => '' },
  mutation: { result: mutantResult, of: ({ hook }: MutantResult) => hook },
  bulk: { result: bulkVerdict, of: ({ hook, table, property }: BulkVerdict) => `${hook ?? `table:${table}`} ${property}` },
} as const
export type ProofPart = keyof typeof PROOFS
export const PROOF_PARTS = Object.keys(PROOFS) as [ProofPart, ...ProofPart[]]
export type ProofResult<P extends ProofPart = ProofPart> = z.infer<(typeof PROOFS)[P]['result']>

/** @returns what was known before, but for what the fresh results speak of again, and these */
export function mergeProofs<P extends ProofPart>(
  part: P,
  before: readonly ProofResult<P>[],
  fresh: readonly ProofResult<P>[],
): ProofResult<P>[] {
  const of = PROOFS[part].of as (result: ProofResult<P>) => string
  const spokenOf = new Set(fresh.map(of))
  return [...before.filter((result) => !spokenOf.has(of(result))), ...fresh]
}

/** By part: what is known of this very code; null where nothing is. */
export const knownProofs = z.object({
  /** Names the code: it differs whenever a file differs. */
  code: z.string(),
  /** Something was measured once, but on other code. */
  stale: z.array(z.enum(PROOF_PARTS)),
  findings: z.array(codeFinding).nullable(),
  coverage: z.array(coverageResult).nullable(),
  mutation: z.array(mutantResult).nullable(),
  bulk: z.array(bulkVerdict).nullable(),
})
export type KnownProofs = z.infer<typeof knownProofs>

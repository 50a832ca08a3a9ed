import { z } from 'zod'
import { testResult } from './tests.js'

/** Which statements and branches of the code the unit tests ran. */

export const share = z.object({ covered: z.number().int(), total: z.number().int() })
export type Share = z.infer<typeof share>

export const coveredLine = z.object({
  /** From 1. */
  line: z.number().int(),
  /** How often the statement that begins there ran; the most of them where several do. */
  hits: z.number().int(),
  /** Branches that begin on the line. */
  branches: share,
  /** Positions in the file's list of tests: those that ran something of this line. */
  tests: z.array(z.number().int()),
})
export type CoveredLine = z.infer<typeof coveredLine>

/** A part of the code that no test ran; lines and columns from 1. */
export const coverageGap = z.object({
  /** `around`: the way past an `if` that has no `else`. */
  kind: z.enum(['statement', 'branch', 'around']),
  line: z.number().int(),
  column: z.number().int(),
  endLine: z.number().int(),
  endColumn: z.number().int(),
})
export type CoverageGap = z.infer<typeof coverageGap>

export const coveredFile = z.object({
  file: z.string(),
  /** Null for a module of lib/. */
  hook: z.string().nullable(),
  statements: share,
  branches: share,
  /** Tests that ran something of it. */
  tests: z.array(z.object({ file: z.string(), name: z.string() })),
  /** Lines on which a statement or a branch begins. */
  lines: z.array(coveredLine),
  gaps: z.array(coverageGap),
})
export type CoveredFile = z.infer<typeof coveredFile>

/** What the work tells: each test as it ends, then each file. */
export const coverageResult = z.union([z.object({ test: testResult }), z.object({ covered: coveredFile })])
export type CoverageResult = z.infer<typeof coverageResult>

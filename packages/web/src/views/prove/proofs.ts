import {
  BULK_PROPERTIES,
  type BulkPropertyName,
  type BulkVerdict,
  type CodeFinding,
  type CoveredFile,
  type HookInfo,
  type MutantResult,
  type ProofPart,
  type ProofResult,
  type Share,
  type TestResult,
} from '@patient-hook/contract'

/** A line for each hook, and for each table's whole save path, out of what was measured. */

/** Short enough for the head of a column. */
export const HEADS: Record<BulkPropertyName, string> = {
  'batch-equals-singles': 'same result',
  'order-free': 'order',
  'batch-size-free': 'batch size',
  'saving-again-changes-nothing': 'idempotent',
  'bad-row-alone': 'isolation',
  'empty-and-repeated-links': 'empty links',
  'constant-queries': 'queries',
  'linear-growth': 'growth',
}

/** What is known of one hook, or of a table's whole save path; null where nothing is known of the code as it stands. */
export interface ProofLine {
  /** In addresses; a table's begins with `table:`. */
  key: string
  hook: string | null
  table: string
  moment: string
  findings: readonly CodeFinding[] | null
  /** Those that ran something of the hook. */
  tests: readonly TestResult[] | null
  coverage: CoveredFile | null
  mutants: readonly MutantResult[] | null
  verdicts: Partial<Record<BulkPropertyName, BulkVerdict>>
}

/** What was measured, by part. */
export type Measured = { [P in ProofPart]: readonly ProofResult<P>[] | null }

/** Hooks in save-path order by table, each table's own line after its hooks. */
export function proofLines(hooks: readonly HookInfo[], measured: Measured): ProofLine[] {
  const live = hooks.filter((hook) => hook.state.state !== 'off')
  const tables = [...new Set(live.map((hook) => hook.table))].sort()
  const verdictsOf = (hook: string | null, table: string) =>
    Object.fromEntries(
      (measured.bulk ?? [])
        .filter((verdict) => verdict.hook === hook && verdict.table === table)
        .map((verdict) => [verdict.property, verdict]),
    )
  const covered = (measured.coverage ?? []).flatMap((each) => ('covered' in each ? [each.covered] : []))
  const tests = (measured.coverage ?? []).flatMap((each) => ('test' in each ? [each.test] : []))
  const whole = { findings: null, tests: null, coverage: null, mutants: null }
  const ofHook = (hook: string): Omit<ProofLine, 'key' | 'hook' | 'table' | 'moment' | 'verdicts'> => {
    const coverage = covered.find((file) => file.hook === hook) ?? null
    const names = new Set(coverage?.tests.map(({ file, name }) => `${file}\n${name}`))
    const mutants = (measured.mutation ?? []).filter((mutant) => mutant.hook === hook)
    return {
      findings: measured.findings?.filter((finding) => finding.hook === hook) ?? null,
      tests: coverage && tests.filter(({ file, name }) => names.has(`${file}\n${name}`)),
      coverage,
      mutants: mutants.length > 0 ? mutants : null,
    }
  }
  return tables.flatMap((table) => [
    ...live
      .filter((hook) => hook.table === table)
      .map(({ name, moment }) => ({ key: name, hook: name, table, moment, ...ofHook(name), verdicts: verdictsOf(name, table) })),
    { key: `table:${table}`, hook: null, table, moment: 'whole save path', ...whole, verdicts: verdictsOf(null, table) },
  ])
}

/** A figure of a line, and whether it is as it should be. */
export interface Figure {
  text: string
  says: string
  tone: 'good' | 'bad' | 'none'
}
const NOT_MEASURED: Figure = { text: '–', says: 'not run yet', tone: 'none' }

export function testsFigure({ tests }: ProofLine): Figure {
  if (!tests) return NOT_MEASURED
  const failed = tests.filter(({ status }) => status === 'failed').length
  if (failed > 0) return { text: `${failed} failed`, says: `${failed} of ${tests.length} tests failed`, tone: 'bad' }
  return tests.length === 0
    ? { text: 'none', says: 'not covered by any test', tone: 'bad' }
    : { text: String(tests.length), says: `${tests.length} tests run it, and passed`, tone: 'good' }
}

/** @returns the share that tests ran, as a whole per cent that is never rounded up */
export function shareFigure(share: Share | undefined, what: string): Figure {
  if (!share) return NOT_MEASURED
  const { covered, total } = share
  if (total === 0) return { text: '–', says: `there are no ${what}`, tone: 'good' }
  const says = `${covered} of ${total} ${what} are run by a test`
  return { text: `${Math.floor((100 * covered) / total)} %`, says, tone: covered === total ? 'good' : 'bad' }
}

export const isMissed = ({ outcome, reason }: MutantResult): boolean => outcome === 'missed' && reason === null

/** Of the mistakes that could be tried, those that a test noticed or need not. */
export function mutantsFigure({ mutants }: ProofLine): Figure {
  const tried = mutants?.filter(({ outcome }) => outcome === 'caught' || outcome === 'missed') ?? []
  if (tried.length === 0) return NOT_MEASURED
  const missed = tried.filter(isMissed).length
  const excused = tried.filter(({ reason }) => reason !== null).length
  const says = `${tried.length - missed - excused} of ${tried.length} mutations are noticed by a test${excused > 0 ? `, ${excused} need not be` : ''}`
  return { text: `${tried.length - missed}/${tried.length}`, says, tone: missed > 0 ? 'bad' : 'good' }
}

export function findingsFigure({ findings }: ProofLine): Figure {
  if (!findings) return NOT_MEASURED
  const count = findings.length
  return count === 0
    ? { text: '0', says: 'no findings', tone: 'good' }
    : { text: String(count), says: `${count} to fix`, tone: 'bad' }
}

export type Mark = 'holds' | 'accepted' | 'broken' | 'none'
export const markOf = (verdict: BulkVerdict | undefined): Mark =>
  !verdict ? 'none' : verdict.holds ? 'holds' : verdict.accepted ? 'accepted' : 'broken'
export const SIGNS: Record<Mark, string> = { holds: '✓', accepted: '~', broken: '×', none: '·' }
export const MARK_WORDS: Record<Mark, string> = {
  holds: 'holds',
  accepted: 'fails, accepted',
  broken: 'fails',
  none: 'not run yet',
}

export const bulkWord = (lines: readonly ProofLine[]): string => {
  const all = lines.flatMap((line) => BULK_PROPERTIES.map((property) => markOf(line.verdicts[property])))
  const count = (mark: Mark) => all.filter((each) => each === mark).length
  const parts = [`${count('holds')} hold`, `${count('accepted')} accepted`, `${count('broken')} do not hold`]
  return count('none') > 0 ? [...parts, `${count('none')} not tried yet`].join(', ') : parts.join(', ')
}

/** Each part in words: its name, what it measures, what is shown as it runs, and what is counted. */
export const PARTS: Record<ProofPart, { word: string; says: string; running: string; of: string }> = {
  findings: { word: 'findings', says: 'type errors and findings', running: 'Looking through the code', of: 'files' },
  coverage: {
    word: 'tests and coverage',
    says: 'all unit tests, with statement and branch coverage',
    running: 'Tests run',
    of: 'test files',
  },
  mutation: {
    word: 'mutations',
    says: 'small deliberate bugs in the hook: does a unit test catch each one?',
    running: 'Mutations run',
    of: 'mistakes',
  },
  bulk: {
    word: 'bulk proof',
    says: 'a batch gives the same result as single records, at a cost that grows no faster than the rows',
    running: 'Bulk proof',
    of: 'properties',
  },
}

/** Does anything of the line fail, or was it not measured? */
export function needsAttention(line: ProofLine): boolean {
  const marks = BULK_PROPERTIES.map((property) => markOf(line.verdicts[property]))
  if (marks.some((mark) => mark === 'broken' || mark === 'none')) return true
  if (line.hook === null) return false
  const figures = [
    findingsFigure(line),
    testsFigure(line),
    shareFigure(line.coverage?.statements, 'statements'),
    shareFigure(line.coverage?.branches, 'branches'),
    mutantsFigure(line),
  ]
  return figures.some(({ tone }) => tone !== 'good')
}

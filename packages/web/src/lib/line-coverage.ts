import type { CoveredFile } from '@patient-hook/contract'

/** What unit tests run of each line, as it is marked beside the code. */

export interface LineCoverage {
  line: number
  /** How many tests run it; with ½ where a branch on it is not taken. */
  text: string
  /** In words. */
  says: string
  tone: 'run' | 'partly' | 'not-run'
  /** Names of the tests that run it. */
  tests: readonly string[]
}

const times = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`

export function lineCoverage({ lines, tests, gaps }: CoveredFile): LineCoverage[] {
  return lines.map(({ line, hits, branches, tests: by }) => {
    const missed = branches.total - branches.covered
    const gap = gaps.some((each) => each.kind === 'statement' && each.line === line)
    const ways = missed > 0 ? `, and ${missed} of ${branches.total} ways on it taken by none` : ''
    return {
      line,
      text: hits === 0 ? '0' : missed > 0 || gap ? `${by.length}½` : String(by.length),
      says: hits === 0 ? 'not covered by any test' : `run ${times(hits, 'time')} by ${times(by.length, 'test')}${ways}`,
      tone: hits === 0 ? 'not-run' : missed > 0 || gap ? 'partly' : 'run',
      tests: by.map((test) => tests[test]!.name),
    }
  })
}

import type { CoveredFile, CoveredLine, Share } from '@patient-hook/contract'
import coverage, { type CoverageMapData, type FileCoverageData, type Range } from 'istanbul-lib-coverage'
import type { Counts } from '../../sandbox/file-counts.js'

/** Adds up what unit tests ran, file by file, and reports which test ran what. */

/** What there is to count in one file, with what ran as the module was loaded. */
export interface CoverageGround {
  file: string
  hook: string | null
  data: FileCoverageData
  loading: Counts
}
export interface TestName {
  file: string
  name: string
}

export class Coverage {
  readonly #files = new Map<string, FileSum>()

  constructor(grounds: readonly CoverageGround[]) {
    for (const ground of grounds) this.#files.set(ground.file, new FileSum(ground))
  }

  /** @param counts by file */
  add(test: TestName, counts: Readonly<Record<string, Counts>>): void {
    for (const [file, ran] of Object.entries(counts)) this.#files.get(file)?.add(test, ran)
  }

  /** In istanbul's form, for its reports. */
  get data(): CoverageMapData {
    return Object.fromEntries([...this.#files].map(([file, { data }]) => [file, data]))
  }

  files(): CoveredFile[] {
    return [...this.#files.values()].map((file) => file.covered())
  }
}

/** From columns that count from 0 to such that count from 1. */
const placeOf = ({ start, end }: Range) => ({
  line: start.line,
  column: start.column + 1,
  endLine: end.line,
  endColumn: end.column + 1,
})

class FileSum {
  readonly data: FileCoverageData
  readonly #hook: string | null
  readonly #tests: TestName[] = []
  /** Of each statement, and of each path of a branch as `branch/path`: the tests that ran it. */
  readonly #ranBy = new Map<string, number[]>()

  constructor({ data, hook, loading }: CoverageGround) {
    this.data = structuredClone(data)
    this.#hook = hook
    this.#sum(loading, () => {})
  }

  add(test: TestName, counts: Counts): void {
    const number = this.#tests.push({ file: test.file, name: test.name }) - 1
    this.#sum(counts, (key) => {
      const by = this.#ranBy.get(key)
      if (by) by.push(number)
      else this.#ranBy.set(key, [number])
    })
  }

  #sum({ s, f, b }: Counts, note: (key: string) => void): void {
    for (const [key, count] of Object.entries(s)) {
      this.data.s[key]! += count
      note(key)
    }
    for (const [key, count] of Object.entries(f)) this.data.f[key]! += count
    for (const [key, paths] of Object.entries(b))
      paths.forEach((count, path) => {
        this.data.b[key]![path]! += count
        if (count > 0) note(`${key}/${path}`)
      })
  }

  covered(): CoveredFile {
    const { statements, branches } = coverage.createFileCoverage(this.data).toSummary()
    const shareOf = ({ covered, total }: { covered: number; total: number }): Share => ({ covered, total })
    return {
      file: this.data.path,
      hook: this.#hook,
      statements: shareOf(statements),
      branches: shareOf(branches),
      tests: this.#tests,
      lines: this.#lines(),
      gaps: this.#gaps(),
    }
  }

  /** Every path of every branch, with the place where it begins. */
  *#paths(): Generator<{ key: string; kind: 'branch' | 'around'; at: Range; count: number }> {
    for (const [key, { loc, locations }] of Object.entries(this.data.branchMap))
      for (const [path, range] of locations.entries()) {
        // The way around an `if` without `else` has no its own place.
        const isThere = range.start?.line !== undefined
        const kind = isThere ? 'branch' : 'around'
        yield { key: `${key}/${path}`, kind, at: isThere ? range : loc, count: this.data.b[key]![path]! }
      }
  }

  #lines(): CoveredLine[] {
    const lines = new Map<number, CoveredLine>()
    const lineAt = (number: number) => {
      let line = lines.get(number)
      if (!line) lines.set(number, (line = { line: number, hits: 0, branches: { covered: 0, total: 0 }, tests: [] }))
      return line
    }
    const addTests = (line: CoveredLine, key: string) => {
      for (const test of this.#ranBy.get(key) ?? []) if (!line.tests.includes(test)) line.tests.push(test)
    }
    for (const [key, { start }] of Object.entries(this.data.statementMap)) {
      const line = lineAt(start.line)
      line.hits = Math.max(line.hits, this.data.s[key]!)
      addTests(line, key)
    }
    for (const { key, at, count } of this.#paths()) {
      const line = lineAt(at.start.line)
      line.hits = Math.max(line.hits, count)
      line.branches.total++
      if (count > 0) line.branches.covered++
      addTests(line, key)
    }
    return [...lines.values()].sort((a, b) => a.line - b.line)
  }

  #gaps(): CoveredFile['gaps'] {
    const statements = Object.entries(this.data.statementMap)
      .filter(([key]) => this.data.s[key] === 0)
      .map(([, range]) => ({ kind: 'statement' as const, ...placeOf(range) }))
    const branches = [...this.#paths()].filter(({ count }) => count === 0).map(({ kind, at }) => ({ kind, ...placeOf(at) }))
    return [...statements, ...branches].sort((a, b) => a.line - b.line || a.column - b.column)
  }
}

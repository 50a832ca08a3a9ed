import { createRequire } from 'node:module'
import type { CoverageMapData } from 'istanbul-lib-coverage'

/** LCOV trace files, as coverage tools read them, by istanbul's report. Loaded when one is asked for. */

const need = createRequire(import.meta.url)

/**
 * @param data paths in it are those of the project
 * @param pathOf how a file of the project is named in the report; default: as in the project
 */
export function toLcov(data: CoverageMapData, pathOf = (file: string): string => file): string {
  const { createCoverageMap } = need('istanbul-lib-coverage') as typeof import('istanbul-lib-coverage')
  const { createContext } = need('istanbul-lib-report') as typeof import('istanbul-lib-report')
  const reports = need('istanbul-reports') as typeof import('istanbul-reports')
  const lines: string[] = []
  const writer = { writeFile: () => ({ println: (line: string) => lines.push(line), close: () => {} }) }
  const context = createContext({ dir: '.', coverageMap: createCoverageMap(renamed(data, pathOf)) })
  const report = reports.create('lcovonly', { projectRoot: process.cwd() }) as unknown as { execute(context: unknown): void }
  report.execute(Object.create(context, { writer: { value: writer } }))
  return lines.map((line) => `${line}\n`).join('')
}

const renamed = (data: CoverageMapData, pathOf: (file: string) => string): CoverageMapData =>
  Object.fromEntries(
    Object.entries(data).map(([file, coverage]) => [
      pathOf(file),
      { ...('data' in coverage ? coverage.data : coverage), path: pathOf(file) },
    ]),
  )

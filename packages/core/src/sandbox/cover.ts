import type { FileCoverageData } from 'istanbul-lib-coverage'
import { createRequire } from 'node:module'
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping'
import remapping from '@jridgewell/remapping'
import { HookError } from '../errors.js'

/** Puts counters into a module's text, so it is known which statements and branches have run: istanbul's, in its form. */

export interface CoveredText {
  /** TypeScript still. */
  text: string
  /** The name by which the code finds its counters, called without a value. */
  counters: string
  /** What there is to count, with counts of 0; lines from 1 and columns from 0 of the text as it was written. */
  data: FileCoverageData
  /** The line of the text as it was written, from 1; null for what was put in. Both are counted as the compiler does: from 0 columns. */
  lineAt(line: number, column: number): number | null
  /** JSON of a source map from `text` to the text as it was written. */
  map: string
  /** @param map of code that was compiled from `text`, as JSON @returns of the same code, to the text as it was written */
  mapFrom(map: string): string
}

/** Loaded when coverage is asked for: it brings its own parser. */
let loaded: typeof import('istanbul-lib-instrument') | null = null
const istanbul = () =>
  (loaded ??= createRequire(import.meta.url)('istanbul-lib-instrument') as typeof import('istanbul-lib-instrument'))

/** The engine gives the counters itself: what the library writes at the top to find them is removed, its lines stay. */
const HEAD = /^function (cov_\w+)\(\) \{\n[^]*?\n\}\n\1\(\);/

/** @throws HookError compile/syntax where the library cannot read it */
export function cover(file: string, text: string): CoveredText {
  const instrumenter = istanbul().createInstrumenter({
    esModules: true,
    parserPlugins: ['typescript', 'decorators', 'decoratorAutoAccessors', 'explicitResourceManagement'],
    produceSourceMap: true,
    compact: false,
    preserveComments: true,
    coverageGlobalScopeFunc: false,
  })
  let covered: string
  try {
    covered = instrumenter.instrumentSync(text, file)
  } catch (error) {
    const { message, loc } = error as Error & { loc?: { line: number; column: number } }
    throw new HookError('compile/syntax', {
      file,
      line: loc?.line ?? 1,
      column: (loc?.column ?? 0) + 1,
      detail: `coverage cannot be measured: ${message.replace(/^[^:]*: /, '').replace(/\s*\(\d+:\d+\)[^]*/, '')}`,
    })
  }
  const head = HEAD.exec(covered)!
  const map = { ...instrumenter.lastSourceMap(), sources: [file] }
  const trace = new TraceMap(map as never)
  return {
    text: head[0].replace(/[^\n]/g, '') + covered.slice(head[0].length),
    counters: head[1]!,
    data: structuredClone(instrumenter.lastFileCoverage()) as FileCoverageData,
    map: JSON.stringify(map),
    lineAt: (line, column) => originalPositionFor(trace, { line, column }).line,
    mapFrom: (compiled) => remapping(compiled, (_, { depth }) => (depth === 1 ? (map as never) : null)).toString(),
  }
}

import type { Files } from '@patient-hook/contract'
import type { TestCounts, TestResult } from '../../prove/run-tests.js'
import { sideBySide } from './side-by-side.js'
import { isStopped } from './stopped.js'
import type { TryEngines } from './try-engines.js'

/** Runs unit tests on the engines that try, file by file side by side; one that hangs or uses up the memory fails, and the rest goes on. */

export interface TestRunOptions {
  drafts?: Files
  /** Files; default: all. */
  only?: readonly string[]
  /** Only tests that a change of these files may make come out otherwise. */
  changed?: readonly string[]
  /** Of this plugin only. */
  plugin?: string
  /** Only tests of which file or name contain it. */
  filter?: string
  onResult?: (result: TestResult) => void
  /** With it, what each test ran is counted. */
  onCounts?: (test: { file: string; name: string }, counts: TestCounts) => void
  /** How many files there are, and how many are done. */
  onProgress?: (done: number, total: number) => void
  signal?: AbortSignal
  /** The engines are cold: so many milliseconds one of them works alone. */
  alone?: number
}

/** @throws HookError where the project's files are wrong, or request/cancelled */
export async function runTests(engines: TryEngines, options: TestRunOptions = {}): Promise<TestResult[]> {
  const { drafts, signal, filter, onResult = () => {}, onCounts, onProgress = () => {}, alone } = options
  const known = await engines.call('testFiles', [drafts, onCounts !== undefined], { signal })
  const { changed } = options
  const affected = changed && (await engines.call('testsAffected', [drafts, [...changed]], { signal }))
  const files = known
    .filter(
      ({ file, plugin }) =>
        (options.only?.includes(file) ?? true) &&
        (affected?.includes(file) ?? true) &&
        (options.plugin === undefined || plugin === options.plugin),
    )
    .map(({ file }) => file)
  const results = new Map<string, TestResult[]>(files.map((file) => [file, []]))
  let done = 0
  onProgress(done, files.length)
  const runOne = async (file: string) => {
    await runFile(engines, file, results.get(file)!, { drafts, signal, filter, onResult, onCounts })
    onProgress(++done, files.length)
  }
  await sideBySide(engines, files, runOne, alone)
  return [...results.values()].flat()
}

async function runFile(
  engines: TryEngines,
  file: string,
  results: TestResult[],
  {
    drafts,
    signal,
    filter,
    onResult,
    onCounts,
  }: Pick<TestRunOptions, 'drafts' | 'signal' | 'filter' | 'onCounts'> & Required<Pick<TestRunOptions, 'onResult'>>,
): Promise<void> {
  const note = (result: TestResult) => {
    results.push(result)
    onResult(result)
  }
  for (;;) {
    let running: { file: string; name: string; line: number | null } | null = null
    const started = performance.now()
    // A file that could not be loaded stands under its own name; it fails again rather than being skipped.
    const finished = results.map(({ name }) => ({ file, name }))
    try {
      await engines.call('tests', [drafts, [file], finished, filter, onCounts !== undefined], {
        signal,
        background: true,
        onEvent: (event, data) => {
          if (event === 'test') running = data as typeof running
          else if (event === 'counts' && running) onCounts?.(running, data as TestCounts)
          else if (event === 'result') {
            running = null
            note(data as TestResult)
          }
        },
      })
      return
    } catch (error) {
      // Assigned in the events, which the compiler does not see.
      const hung = running as { file: string; name: string; line: number | null } | null
      if (!isStopped(error)) throw error
      note({
        ...(hung ?? { file, name: file.replace(/^.*\//, ''), line: error.report.line ?? null }),
        status: 'failed',
        ms: Math.round(performance.now() - started),
        error: { ...error.report, file: error.report.file ?? file },
      })
      // It hung before the first test: no further test can run.
      if (!hung) return
    }
  }
}

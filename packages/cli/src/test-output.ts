import type { Files, TestResult } from '@patient-hook/contract'
import { describe, type ErrorReport } from '@patient-hook/core/workbench'
import { counted } from './output.js'
import { durationText, mark, toned } from './terminal.js'

/** Results of unit tests for people. */

const MARK = { passed: 'ok', failed: 'FAIL', skipped: 'skip' }
/** Lines of code that are shown before and after the one that failed. */
const BEFORE = 2
const AFTER = 1
/** The slowest tests that the summary names. */
const SLOWEST = 3

/** A line for a test, and below a failed one what went wrong, with its place in the code. */
export function testLine(result: TestResult, files: Files): string {
  const { status, file, name, ms, error } = result
  const head = `${mark(MARK[status])} ${file}: ${name}${status === 'passed' ? toned('quiet', ` (${ms} ms)`) : ''}`
  if (!error) return head
  const text =
    error.code === 'test/failed'
      ? `${error.file}:${error.line ?? ''}\n${error.message}`
      : `${describe(error as ErrorReport)}\n${error.todo}`
  const frame = error.file && error.line ? codeFrame(files[error.file], error.line) : []
  return [head, ...[...text.split('\n'), ...frame].map((line) => `       ${line}`)].join('\n')
}

function codeFrame(text: string | undefined, line: number): string[] {
  const lines = text?.split('\n') ?? []
  if (lines[line - 1] === undefined) return []
  const first = Math.max(1, line - BEFORE)
  const shown = lines.slice(first - 1, line + AFTER)
  const width = String(first + shown.length).length
  return [
    '',
    ...shown.map((code, index) => {
      const number = first + index
      const text = `${number === line ? '>' : ' '} ${String(number).padStart(width)} | ${code}`.trimEnd()
      return number === line ? toned('strong', text) : toned('quiet', text)
    }),
  ]
}

/** Files, tests, time and the slowest tests; the counts stand in the last line. */
export function testSummary(results: readonly TestResult[], ms: number): string {
  const count = (status: TestResult['status']) => results.filter((result) => result.status === status).length
  const [passed, failed, skipped] = [count('passed'), count('failed'), count('skipped')]
  const slowest = results
    .filter(({ status }) => status !== 'skipped')
    .sort((a, b) => b.ms - a.ms)
    .slice(0, SLOWEST)
  const facts = [
    `${counted(new Set(results.map(({ file }) => file)).size, 'file')}, ${counted(results.length, 'test')}, ${durationText(ms)}`,
    ...(results.length > SLOWEST
      ? [`slowest: ${slowest.map(({ name, ms }) => `${name} (${durationText(ms)})`).join('; ')}`]
      : []),
  ]
  const counts = `${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`
  return `\n${facts.map((fact) => toned('quiet', fact)).join('\n')}\n${toned(failed > 0 ? 'bad' : 'good', counts)}`
}

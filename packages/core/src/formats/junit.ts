import { createRequire } from 'node:module'
import type { TestResult } from '@patient-hook/contract'
import type { Builder } from 'junit-report-builder'
import { describe, type ErrorReport } from '../errors.js'

/** Test results as JUnit XML, as build servers read it: a suite for each file. */

/** What no XML 1.0 document may hold (XML 1.0, 2.2): control characters, and halves of a pair. */
const FORBIDDEN = /[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/gu
const clean = (text: string) => text.replace(FORBIDDEN, '\u{FFFD}')

export function toJUnit(results: readonly TestResult[]): string {
  // Loaded when a report is asked for.
  const builder = createRequire(import.meta.url)('junit-report-builder') as Builder
  const report = builder.newBuilder()
  for (const file of [...new Set(results.map((each) => each.file))]) {
    const suite = report.testSuite().name(clean(file))
    for (const { name, status, ms, error, line } of results.filter((each) => each.file === file)) {
      const test = suite
        .testCase()
        .className(clean(file))
        .name(clean(name))
        .time(Math.round(ms * 1000) / 1_000_000)
      if (line !== null) test.file(`${clean(file)}:${line}`)
      if (status === 'skipped') test.skipped()
      if (error)
        test
          .failure(clean(error.message.split('\n')[0]!), error.code)
          .stacktrace(clean(describe(error as ErrorReport)).replaceAll(']]>', ']] >'))
    }
  }
  return report.build()
}

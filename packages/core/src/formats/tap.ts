import type { TestResult } from '@patient-hook/contract'

/** Test results in the Test Anything Protocol, version 14 (testanything.org/tap-version-14-specification.html). */

/** `#` begins a directive, and `\` is what keeps it from doing so. */
const escaped = (text: string) => text.replace(/[\\#]/g, (found) => `\\${found}`).replace(/\s+/g, ' ')

export function toTap(results: readonly TestResult[]): string {
  const lines = ['TAP version 14', `1..${results.length}`]
  results.forEach(({ file, name, status, ms, line, error }, index) => {
    const directive = status === 'skipped' ? ' # SKIP' : ''
    lines.push(`${status === 'failed' ? 'not ok' : 'ok'} ${index + 1} - ${escaped(`${file}: ${name}`)}${directive}`)
    if (!error) return
    const { message, code, expected, received } = error
    const told = { message, code, at: `${error.file ?? file}:${error.line ?? line ?? ''}`, duration_ms: ms, expected, received }
    // JSON is YAML as well (YAML 1.2), whatever is in the texts.
    const entries = Object.entries(told).filter(([, value]) => value !== undefined)
    lines.push('  ---', ...entries.map(([key, value]) => `  ${key}: ${JSON.stringify(value)}`), '  ...')
  })
  return `${lines.join('\n')}\n`
}

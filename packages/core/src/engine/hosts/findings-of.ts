import type { CodeFinding, Files } from '@patient-hook/contract'
import { hookOfPath } from '@patient-hook/contract/paths'
import type { TryEngines } from './try-engines.js'

/** Errors of types and known traps of a project, in one list. */

/** @throws HookError where the project's files are wrong, or request/cancelled */
export async function findingsOf(engines: TryEngines, files: Files, signal?: AbortSignal): Promise<CodeFinding[]> {
  const { diagnostics, findings } = await engines.call('check', [files], { signal, bare: true, background: true })
  const hookOf = (file: string) => hookOfPath(file)?.hook ?? null
  return [
    ...diagnostics.map(({ code, severity, message, file, line, column }) => ({
      rule: `TS${code}`,
      severity: severity === 'hint' ? ('info' as const) : severity,
      message,
      file,
      hook: hookOf(file),
      line,
      column,
    })),
    // What could be said better is shown where it is written, and is not a fault.
    ...findings.flatMap(({ rule, severity, message, file, line, column }) =>
      severity === 'hint' ? [] : [{ rule, severity, message, file, hook: hookOf(file), line, column }],
    ),
  ]
}

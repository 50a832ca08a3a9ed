import type { BulkVerdict, Files } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import { passGate, type GateResult } from '../../release/gate/gate.js'
import { findingsOf } from './findings-of.js'
import { proveBulk } from './prove-bulk.js'
import { runTests } from './run-tests.js'
import type { TryEngines } from './try-engines.js'

/** Measures what the gate of a release looks at, on exactly these files. */

/** The same batches are tried each time. */
const SEED = 1

/** @throws HookError where there is no such plugin, or the project's files are wrong */
export async function runGate(engines: TryEngines, files: Files, plugin: string, signal?: AbortSignal): Promise<GateResult[]> {
  const plugins = [...new Set(Object.keys(files).flatMap((path) => /^plugins\/([^/]+)\//.exec(path)?.[1] ?? []))]
  if (!plugins.includes(plugin))
    throw new HookError('request/bad', { detail: `there is no plugin ${plugin}${hintFor(plugin, plugins)}` })
  const findings = await findingsOf(engines, files, signal)
  const tests = await runTests(engines, { signal })
  const own = Object.keys(files).flatMap((path) => {
    const [, of, hook] = /^plugins\/([^/]+)\/hooks\/(?:.*\/)?([^/]+)\.ts$/.exec(path) ?? []
    return of === plugin && hook !== undefined ? [hook] : []
  })
  const verdicts: BulkVerdict[] = []
  if (own.length > 0)
    await proveBulk(engines, {
      hooks: own,
      seed: SEED,
      signal,
      onProgress: () => {},
      onResult: (verdict) => verdicts.push(verdict),
    })
  return passGate({ plugin, findings, tests, verdicts })
}

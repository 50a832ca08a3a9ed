import type { Files, ImportPlan } from '@patient-hook/contract'
import { pluginsIn } from '@patient-hook/contract/paths'
import { withChanges } from '../../model/files.js'
import { pluginFile, versionIn, withoutRecords } from '../../release/composite.js'
import { orFaults } from './faults-of-files.js'
import { findingsOf } from './findings-of.js'
import { runTests } from './run-tests.js'
import type { TryEngines } from './try-engines.js'

/** What taking in files of a zip would do, found out on its own engines; nothing is kept. */

type Texts = ReadonlyMap<string, string>

/** Files as they would be, and the differences. Whole plugins are taken; of fixture sets the files that are not there yet. */
export function merged(
  now: Texts,
  incoming: Texts,
): { changed: Record<string, string | null>; plan: Pick<ImportPlan, 'plugins' | 'files' | 'left'> } {
  const plugins = pluginsIn(incoming.keys())
  const changed: Record<string, string | null> = {}
  const left: ImportPlan['left'] = []
  for (const plugin of plugins)
    for (const path of now.keys()) if (path.startsWith(`plugins/${plugin}/`) && !incoming.has(path)) changed[path] = null
  for (const [path, text] of incoming) {
    const before = now.get(path)
    if (before === text) continue
    if (path.startsWith('plugins/')) changed[path] = text
    else if (!path.startsWith('fixtures/')) left.push({ file: path, why: reasonOf(path, before !== undefined) })
    else if (before === undefined) changed[path] = text
    else left.push({ file: path, why: 'there is a fixture set of that name with other records: it stays as it is' })
  }
  const files = Object.entries(changed).map(([file, text]) => ({
    file,
    change: text === null ? ('removed' as const) : now.has(file) ? ('changed' as const) : ('added' as const),
  }))
  const versionOf = (texts: Texts, plugin: string) => versionIn(texts.get(pluginFile(plugin)))
  return {
    changed,
    plan: {
      plugins: plugins.map((plugin) => ({ plugin, version: versionOf(incoming, plugin), from: versionOf(now, plugin) })),
      files,
      left,
    },
  }
}

function reasonOf(path: string, isThere: boolean): string {
  if (path.startsWith('data/')) return 'records come in as CSV, through the save path'
  if (path === 'project.json') return 'users, sequences and budgets stay those of this project'
  return isThere
    ? 'there is a table of that name with other fields: it is changed in the Model view'
    : 'tables are made in the Model view, from this file'
}

/** @param engines that have the merged files open @throws HookError request/cancelled */
export async function planImport(
  engines: TryEngines,
  now: Texts,
  incoming: Texts,
  options: { signal?: AbortSignal; onProgress?: (done: number, total: number) => void } = {},
): Promise<ImportPlan> {
  const { signal, onProgress = () => {} } = options
  const { plan, changed } = merged(now, incoming)
  const files = filesAfter(now, changed)
  const isIncoming = (file: string) => plan.plugins.some(({ plugin }) => file.startsWith(`plugins/${plugin}/`))
  onProgress(0, 3)
  const needs = await engines.call('missingFields', [files, plan.plugins.map(({ plugin }) => plugin)], { signal, bare: true })
  const { faults } = await orFaults(() => engines.call('testFiles', [undefined], { signal }))
  onProgress(1, 3)
  const { value: findings } = await orFaults(() => findingsOf(engines, files, signal))
  onProgress(2, 3)
  const tests = { passed: 0, failed: 0, failures: [] as string[] }
  if (faults.length === 0)
    for (const { plugin } of plan.plugins)
      for (const { status, file, name } of await runTests(engines, { plugin, signal })) {
        if (status === 'passed') tests.passed++
        if (status === 'failed') {
          tests.failed++
          tests.failures.push(`${file}: ${name}`)
        }
      }
  onProgress(3, 3)
  return { ...plan, needs, faults, findings: (findings ?? []).filter(({ file }) => isIncoming(file)), tests }
}

/** Without the records that a new database begins with, which no test needs. */
export const filesAfter = (now: Texts, changed: Readonly<Record<string, string | null>>): Files =>
  Object.fromEntries(withoutRecords(withChanges(now, changed), true))

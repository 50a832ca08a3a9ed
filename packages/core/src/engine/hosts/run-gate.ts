import { createHash } from 'node:crypto'
import type { BulkVerdict, Files, GateResult, GateRuleName, ReleaseCoverage } from '@patient-hook/contract'
import { hookOfPath } from '@patient-hook/contract/paths'
import { GATE_RULES } from '@patient-hook/contract/words'
import type { GateSettings } from '../../model/types.js'
import { lookAt } from '../../release/gate/gate.js'
import type { Evidence } from '../../release/gate/rule.js'
import { orFaults } from './faults-of-files.js'
import { findingsOf } from './findings-of.js'
import { measureCoverage } from './measure-coverage.js'
import { proveBulk } from './prove-bulk.js'
import type { TryEngines } from './try-engines.js'

/** Measures what the gate of a release looks at, on exactly these files. */

/** The same batches are tried each time. */
const SEED = 1

const RULES_BEFORE_PROOF = GATE_RULES.length - 1

/** Represents everything that the proof of a hook can hang on; unit tests are no part of it. */
const textOfProof = (files: Files): string =>
  createHash('sha256')
    .update(
      JSON.stringify(
        Object.entries(files)
          .filter(([path]) => !/^plugins\/[^/]+\/tests\//.test(path))
          .sort(([a], [b]) => (a < b ? -1 : 1)),
      ),
    )
    .digest('hex')

export interface GateOptions {
  /** Those that are released together. */
  plugins: readonly string[]
  /** What is live now, to be compared with. */
  before?: Evidence['before']
  /** What bulk proofs said of hooks, by text: taken from here and added to. */
  proofs?: Map<string, readonly BulkVerdict[]>
  signal?: AbortSignal
  onResult?: (result: GateResult) => void
  onProgress?: (done: number, total: number) => void
}

export interface GateRun {
  gate: GateResult[]
  /** Of the plugin's hooks, to be kept with the release. */
  coverage: ReleaseCoverage
}

/**
 * @param engines that have these files open
 * @throws HookError request/cancelled
 */
export async function runGate(engines: TryEngines, files: Files, options: GateOptions): Promise<GateRun> {
  const { plugins, before = null, signal, proofs = new Map(), onResult = () => {}, onProgress = () => {} } = options
  const settings = settingsIn(files)
  const own = ownHooks(files, plugins)
  const evidence: Evidence = {
    plugins,
    hooks: own,
    faults: (await orFaults(() => engines.call('testFiles', [undefined, true], { signal }))).faults,
    findings: [],
    tests: [],
    coverage: {},
    before,
    least: typeof settings.coverage === 'number' ? settings.coverage : null,
    verdicts: [],
  }
  const gate: GateResult[] = []
  const loads = evidence.faults.length === 0
  const wanted = (...rules: GateRuleName[]) => rules.some((rule) => settings[rule] !== false)
  const tell = (rule: GateRuleName) => {
    const result = lookAt(rule, evidence, settings)
    gate.push(result)
    onResult(result)
    onProgress(gate.length, GATE_RULES.length)
  }
  onProgress(0, GATE_RULES.length)
  tell('model')
  // Where the files are at fault, that is reported already.
  if (wanted('types', 'findings')) evidence.findings = (await orFaults(() => findingsOf(engines, files, signal))).value
  tell('types')
  tell('findings')
  if (loads && wanted('tests', 'coverage')) {
    const { tests, coverage } = await measureCoverage(engines, { signal })
    evidence.tests = tests
    const covered = coverage.files().filter(({ hook }) => hook !== null && own.includes(hook))
    evidence.coverage = Object.fromEntries(covered.map(({ hook, statements, branches }) => [hook!, { statements, branches }]))
  }
  tell('tests')
  tell('coverage')
  if (loads && own.length > 0 && wanted('bulk')) {
    const text = textOfProof(files)
    const known = new Map(own.map((hook) => [hook, proofs.get(`${hook} ${text}`)]))
    const hooks = own.filter((hook) => !known.get(hook))
    const fresh: BulkVerdict[] = []
    const tellHooks = (done: number, all: number) => onProgress(RULES_BEFORE_PROOF + done, RULES_BEFORE_PROOF + all + 1)
    if (hooks.length > 0)
      await proveBulk(engines, { hooks, seed: SEED, signal, onProgress: tellHooks, onResult: (verdict) => fresh.push(verdict) })
    for (const hook of hooks) {
      const verdicts = fresh.filter((verdict) => verdict.hook === hook)
      known.set(hook, verdicts)
      // One that was stopped measured nothing; another time it may come to its end.
      if (verdicts.every(({ rows }) => rows > 0)) proofs.set(`${hook} ${text}`, verdicts)
    }
    evidence.verdicts = own.flatMap((hook) => known.get(hook)!)
  }
  tell('bulk')
  return { gate, coverage: evidence.coverage }
}

/** Read without checking them: what is wrong in project.json is reported as a fault of loading. */
function settingsIn(files: Files): GateSettings {
  try {
    const { gate } = JSON.parse(files['project.json'] ?? '{}') as { gate?: GateSettings }
    return gate ?? {}
  } catch {
    return {}
  }
}

function ownHooks(files: Files, plugins: readonly string[]): string[] {
  return Object.keys(files).flatMap((path) => {
    const file = hookOfPath(path)
    return file && plugins.includes(file.plugin) ? [file.hook] : []
  })
}

import { openWorkbench, runGate, type Candidate, type GateOptions, type GateRun } from '@patient-hook/core'

/** Gates that were looked at, by the text that they were measured on: what holds for it need not be measured twice. */

/** Gates that are remembered, and proofs of single hooks. */
const REMEMBERED = 20
const REMEMBERED_PROOFS = 2000

export class Gates {
  readonly #runs = new Map<string, GateRun>()
  readonly #proofs: NonNullable<GateOptions['proofs']> = new Map()

  /**
   * On its own engines, which have exactly the text of the candidate open, whatever is typed meanwhile.
   * @throws HookError request/cancelled
   */
  async lookAt(candidate: Candidate, told: Pick<GateOptions, 'signal' | 'onResult' | 'onProgress'>): Promise<GateRun> {
    const { whole, stamp, before } = candidate
    const plugins = candidate.plugins.map(({ plugin }) => plugin)
    const key = `${plugins.join()} ${stamp}`
    const known = this.#runs.get(key)
    if (known) {
      for (const result of known.gate) told.onResult?.(result)
      return known
    }
    const engines = openWorkbench(whole)
    try {
      const run = await runGate(engines, whole, { plugins, before, proofs: this.#proofs, ...told })
      this.#runs.set(key, run)
      forget(this.#runs, REMEMBERED)
      forget(this.#proofs, REMEMBERED_PROOFS)
      return run
    } finally {
      await engines.close()
    }
  }
}

/** All but the newest. */
function forget(map: Map<string, unknown>, most: number): void {
  for (const oldest of [...map.keys()].slice(0, Math.max(0, map.size - most))) map.delete(oldest)
}

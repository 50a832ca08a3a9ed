import { parseProject } from '../model/project.js'
import type { Project } from '../model/types.js'
import type { CollectedTest } from '../prove/collect.js'
import { testModule } from '../prove/run-tests.js'
import { Spending } from '../save/budget.js'
import { CELL, CELLS, type Meter } from '../sandbox/meter.js'
import type { Probe } from '../sandbox/probe.js'
import { Sandbox } from '../sandbox/sandbox.js'
import { defineHook, Program } from '../save/program.js'

/** A project made ready to run: parsed, its hooks loaded in a sandbox and put in order. */
export interface Runtime {
  project: Project
  sandbox: Sandbox
  program: Program
  collected: { tests: CollectedTest[]; lineOf: () => number | undefined }
  /** Where probed code reports to; only of a runtime that was made for recording. */
  probe: ProbeSwitch | null
}

/** Code is compiled with one probe for good; who listens changes from rehearsal to rehearsal. */
export class ProbeSwitch implements Probe {
  listener: Probe | null = null
  at = (place: number): void => this.listener?.at(place)
  turn = (place: number): void => this.listener?.turn(place)
  value = <T>(place: number, name: string, value: T): T => this.listener?.value(place, name, value) ?? value
}

/**
 * @param options `project`: of these files, when it is known already; `recorded`: code is probed; `like`: a runtime of
 *   which unchanged modules are taken over, recorded or not as that one is
 * @throws HookError with everything that is wrong with the project's files or hooks
 */
export function makeRuntime(
  files: ReadonlyMap<string, string>,
  options: { cells?: Int32Array; project?: Project; recorded?: boolean; like?: Runtime } = {},
): Runtime {
  const { cells, project: known, like } = options
  const project = known ?? parseProject(files)
  const meter: Meter = like?.sandbox.meter ?? { n: 0, m: Number.MAX_SAFE_INTEGER, stop: () => false }
  const collected: Runtime['collected'] = like?.collected ?? { tests: [], lineOf: () => undefined }
  const probe = like ? like.probe : options.recorded ? new ProbeSwitch() : null
  const sandbox = new Sandbox({
    ...(probe ? { probe } : {}),
    read: (file) => files.get(file),
    builtins: { 'patient-hook': { defineHook }, 'patient-hook/test': testModule(collected) },
    meter,
    cells: like?.sandbox.cells ?? cells ?? new Int32Array(CELLS),
    ...(like ? { like: like.sandbox } : {}),
  })
  // Modules run while they are loaded: that is metered like a save.
  const spending = new Spending(
    project,
    1,
    meter,
    () => ({ chain: '' }),
    () => {
      sandbox.cells[CELL.pulse] = (sandbox.cells[CELL.pulse]! + 1) | 0
    },
  )
  try {
    return { project, sandbox, program: new Program(project, sandbox), collected, probe }
  } finally {
    spending.close()
  }
}

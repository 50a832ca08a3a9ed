import { HookError } from '../errors.js'
import { parseProject } from '../model/project.js'
import type { Project } from '../model/types.js'
import { nothingCollected, type Collected } from '../prove/collect.js'
import { testModule } from '../prove/run-tests.js'
import { Spending } from '../save/budget.js'
import { defineHook } from '../save/hook-definition.js'
import { Program } from '../save/program.js'
import type { Equipment } from '../sandbox/compile.js'
import { Meter } from '../sandbox/meter.js'
import type { Probe } from '../sandbox/probe.js'
import { Sandbox } from '../sandbox/sandbox.js'

/** A project made ready to run: parsed, its hooks loaded in a sandbox and put in order. */
export interface Runtime {
  project: Project
  sandbox: Sandbox
  program: Program
  collected: Collected
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

export interface RuntimeOptions {
  /** Of these files, when it is known already. */
  project?: Project
  /** Default: plain, as it runs on saves. */
  equipment?: Equipment
  /** A runtime of which unchanged modules are taken over, equipped as that one is. */
  like?: Runtime
  /** Which files stand as they are saved; default: all. */
  isSaved?: (file: string) => boolean
  /** The code is compiled in this way and kept for other engines, too. */
  ahead?: Equipment
  /** Files that are to be kept, null for those that go: no module may be wrong for it, also where no hook imports it. Default: none. */
  changed?: Record<string, string | null>
}

/** @throws HookError with everything that is wrong with the project's files or hooks */
export function makeRuntime(files: ReadonlyMap<string, string>, options: RuntimeOptions = {}): Runtime {
  const { project: known, like } = options
  const project = known ?? parseProject(files)
  const meter = like?.sandbox.meter ?? new Meter()
  const collected: Runtime['collected'] = like?.collected ?? nothingCollected()
  const probe = like ? like.probe : options.equipment === 'probed' ? new ProbeSwitch() : null
  const sandbox = new Sandbox({
    ...(probe ? { probe } : {}),
    keeps: options.isSaved ?? (() => true),
    ahead: options.ahead,
    counted: like ? like.sandbox.counts !== null : options.equipment === 'counted',
    read: (file) => files.get(file),
    builtins: { 'patient-hook': Object.freeze({ defineHook }), 'patient-hook/test': testModule(collected) },
    meter,
    ...(like ? { like: like.sandbox } : {}),
  })
  // Modules run while they are loaded: that is metered like a save.
  const spending = new Spending(project, 1, meter, () => ({ chain: '' }))
  try {
    const program = new Program(project, sandbox)
    if (options.changed) compileChanged(project, sandbox, options.changed)
    return { project, sandbox, program, collected, probe }
  } finally {
    spending.close()
  }
}

/**
 * Code that no hook imports runs later, in a test: that it can be compiled is known now, and that a file that goes is missed by none. What was wrong with
 * another file before is shown when that runs.
 */
function compileChanged(project: Project, sandbox: Sandbox, changed: Record<string, string | null>): void {
  const problems: HookError[] = []
  const goes = Object.values(changed).includes(null)
  const modules = [...project.plugins.values()].flatMap(({ lib, tests }) => [...lib, ...tests])
  for (const file of modules.filter((each) => goes || Object.hasOwn(changed, each)))
    try {
      sandbox.compile(file)
    } catch (error) {
      if (!(error instanceof HookError)) throw error
      if (Object.hasOwn(changed, file) || error.report.code === 'compile/import') problems.push(error)
    }
  if (problems.length > 0) throw new HookError({ ...problems[0]!.report, others: problems.slice(1).map((each) => each.report) })
}

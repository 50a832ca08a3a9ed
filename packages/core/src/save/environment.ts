import type { Project } from '../model/types.js'
import type { Store } from '../store/database.js'
import type { Backfilling } from './backfilling.js'
import type { Program } from './program.js'
import type { SaveRecorder } from './save-recorder.js'

/** Where a save happens: with which hooks, on which records. */
export interface SaveEnvironment {
  project: Project
  program: Program
  store: Store
  /** Off only where a measurement wants it. */
  history?: boolean
  /** Listens to probed code. */
  recorder?: SaveRecorder
  /** By hook: switched on or off, whatever its plugin.json says. */
  switches?: ReadonlyMap<string, { state: 'on' | 'off' }>
  /** The backfill that the save is a batch of. */
  backfill?: Backfilling
}

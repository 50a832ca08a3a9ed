import type { Ground } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { asOf } from '../rehearse/replay/replay.js'
import type { SaveEnvironment } from '../save/save.js'
import type { OpenProject } from './open-project.js'
import type { Runtime } from './runtime.js'

/**
 * Does work where somebody wants to try something: on a fixture set, on the records as they are, or as they were before a save.
 * @throws HookError rehearse/no-save or rehearse/cannot-rewind where the records of then are out of reach
 */
export function onGround<T>(
  open: OpenProject,
  runtime: Runtime,
  { fixtures, before }: Ground,
  work: (environment: SaveEnvironment) => T,
): T {
  if (fixtures !== undefined && before !== undefined)
    throw new HookError('request/bad', { detail: 'name a fixture set or a save (before), not both' })
  const environment = open.ground(runtime, fixtures)
  return before === undefined ? work(environment) : asOf(environment, before, () => work(environment))
}

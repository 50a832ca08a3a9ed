import type { Files } from '@patient-hook/contract'
import { DEFAULT_LIMITS, type EngineLimits } from '../protocol.js'
import { Spares } from './spares.js'
import { TryEngines } from './try-engines.js'

/** Engines over a project's files alone, for commands: nothing is live, records are those of data/. */
export function openWorkbench(files: Files, limits: Partial<EngineLimits> = {}, size?: number): TryEngines {
  return new TryEngines(
    new Spares({ ...DEFAULT_LIMITS, ...limits }, null),
    { files: new Map(Object.entries(files)), database: null },
    size,
  )
}

import type { Files } from '@patient-hook/contract'
import { DEFAULT_LIMITS, type EngineLimits } from '../protocol.js'
import { Spares } from './spares.js'
import { TryEngines } from './try-engines.js'

/**
 * Engines over a project's files alone, for commands: nothing is live.
 * @param options `database`: records are a copy of these live ones; default: those of data/
 */
export function openWorkbench(
  files: Files,
  options: { limits?: Partial<EngineLimits>; database?: string | null; size?: number } = {},
): TryEngines {
  const { limits = {}, database = null, size } = options
  return new TryEngines(
    new Spares({ ...DEFAULT_LIMITS, ...limits }, null),
    { files: new Map(Object.entries(files)), database },
    size,
  )
}

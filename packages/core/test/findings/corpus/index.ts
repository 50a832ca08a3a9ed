import { batchesAndModules } from './batches-and-modules.js'
import { choicesAndLookUps } from './choices-and-look-ups.js'
import { linkedRecords } from './linked-records.js'
import { namesAndWatch } from './names-and-watch.js'
import { orderAndNever } from './order-and-never.js'
import { parentsAndState } from './parents-and-state.js'
import type { Entry } from './entry.js'

export const CORPUS: readonly Entry[] = [
  ...namesAndWatch,
  ...linkedRecords,
  ...choicesAndLookUps,
  ...orderAndNever,
  ...batchesAndModules,
  ...parentsAndState,
]

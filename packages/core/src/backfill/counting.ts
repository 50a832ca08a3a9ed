import type { Backfilling } from '../save/backfilling.js'
import type { Tally } from './figures.js'

/** What a save within a job asks where it only counts: no hook is woken for the job’s sake, and what hooks ask for is done. */
export const counting = (job: number, tally: Tally, holdMessages: boolean): Backfilling => ({
  job,
  wake: new Set(),
  // Links that a removed record clears are part of it.
  holdEffects: false,
  holdMessages,
  begin: () => tally.begin(),
  number: () => {},
  wrote: (...told) => tally.wrote(...told),
  wroteSet: (...told) => tally.wroteSet(...told),
  held: () => {},
})

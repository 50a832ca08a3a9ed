import type { BackfillFigures, BackfillWish } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { SaveEnvironment } from '../save/environment.js'
import { trySave } from '../save/save.js'
import type { FileRow } from './backfill-store.js'
import { leftOf, type Batch } from './batch.js'
import { counting } from './counting.js'
import { Tally } from './figures.js'

/** One batch of the rows of a file: saved as somebody would save them who typed them, with all that hooks do. */

/**
 * @param figures is added to
 * @throws HookError of a batch as a whole; unless good rows are kept beside refused ones, also of one that is refused
 */
export function saveFileRows(
  environment: SaveEnvironment,
  wish: BackfillWish,
  rows: readonly FileRow[],
  figures: BackfillFigures,
  { user, job }: { user: string; job: number },
): Pick<Batch, 'left' | 'outcome' | 'alone'> {
  const tally = new Tally(0, null)
  const numbers = rows.map(([number]) => number)
  const outcome = trySave(
    { ...environment, backfill: counting(job, tally, false) },
    rows.map(([, row]) => row),
    { user, partial: wish.rows!.partial },
  )
  if (outcome.error) {
    const inFile = <T extends { row?: number }>(of: T): T => (of.row ? { ...of, row: numbers[of.row - 1]! } : of)
    throw new HookError({ ...inFile(outcome.error), refusals: outcome.error.refusals?.map(inFile) })
  }
  const left = outcome.refusals.map((refusal) => leftOf(refusal, wish.table, numbers))
  figures.left += new Set(left.map(({ id }) => id)).size
  if (outcome.kept) tally.addTo(figures, outcome, false)
  return { left, outcome, alone: false }
}

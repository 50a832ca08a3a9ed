import type { BackfillLeft, BackfillPlan, BackfillSample, BackfillWish } from '@patient-hook/contract'
import { quote } from '../model/ddl.js'
import type { SaveEnvironment } from '../save/environment.js'
import { orderSql } from '../store/order.js'
import { whereSql } from '../store/where.js'
import { saveBatch } from './batch.js'
import { noFigures } from './figures.js'
import { checkWish } from './wish.js'

/** What a backfill would do, found out by doing it to a copy of the records in a transaction that is rolled back. */

const ROWS = 1000
/** Records that are reported individually. */
const MOST_SAMPLES = 20
const MOST_LEFT = 100

/**
 * @param environment on a copy of the records; no changes are saved
 * @param sample only the first so many records; null: all
 * @throws HookError backfill/bad, or that of a batch as a whole
 */
export function planBackfill(
  environment: SaveEnvironment,
  wish: BackfillWish,
  user: string,
  sample: number | null,
  onProgress: (done: number, total: number) => void,
): BackfillPlan {
  const began = performance.now()
  const table = checkWish(environment, wish, user)
  const { store } = environment
  const { sql, parameters } = whereSql(table, wish.where)
  const ids = store.values(
    `SELECT "id" FROM ${quote(table.name)}${sql} ORDER BY ${orderSql(table, wish.order)}`,
    ...parameters,
  ) as number[]
  const tried = Math.min(ids.length, sample ?? ids.length)
  const figures = noFigures()
  const left: BackfillLeft[] = []
  const samples: BackfillSample[] = []
  store.transaction(() => {
    for (let at = 0; at < tried; at += ROWS) {
      onProgress(at, tried)
      const batch = saveBatch(environment, table, wish, ids.slice(at, Math.min(tried, at + ROWS)), figures, {
        user,
        job: null,
        samples: MOST_SAMPLES - samples.length,
      })
      samples.push(...batch.samples)
      left.push(...batch.left.slice(0, MOST_LEFT - left.length))
    }
    return { value: undefined, keep: false }
  })
  onProgress(tried, tried)
  const ms = Math.round(performance.now() - began)
  const seconds = tried === 0 ? 0 : (ms / 1000 / tried) * ids.length
  return { total: ids.length, tried, figures, left, samples, ms, seconds }
}

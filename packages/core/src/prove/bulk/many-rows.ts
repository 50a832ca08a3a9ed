import type { InputRow } from '@patient-hook/contract'
import { ideas, inputOf } from './batch.js'
import { loadCopies } from './copies.js'
import { withoutTwins } from './field-values.js'
import { generator } from './generator.js'
import { HOLDS, type Effort, type Finding } from './property.js'
import type { Subject } from './subject.js'

/**
 * Batches of as many rows as the code may tell apart, and of many, among as many records: what breaks only then. Of the tables that the
 * code names, more records than the fixture set has are copies of those.
 */

/** @param reasonFor why the property does not hold of these rows; null where it does */
export function forManyRows(subject: Subject, effort: Effort, reasonFor: (rows: InputRow[]) => string | null): Finding {
  const { store } = subject.environment
  const end = performance.now() + effort.ms
  for (const size of subject.sizes) {
    if (performance.now() > end) break
    const found = store.transaction(() => ({ value: among(size), keep: false }))
    if (!found) continue
    // People can only try what the fixture set has.
    const alone = reasonFor(found.rows)
    if (alone !== null) return { reason: alone, batch: found.rows }
    const beside = `in a batch of ${found.rows.length}, among ${size} more records of ${subject.named.join(', ')}`
    return { reason: `${found.reason} (${beside})`, batch: null }
  }
  return HOLDS

  function among(size: number): { rows: InputRow[]; reason: string } | null {
    const copies = loadCopies(subject, new Map(subject.named.map((table) => [table, size])))
    const rows = batchOf(subject, size, effort.seed, copies)
    const reason = reasonFor(rows)
    return reason === null ? null : smaller(rows, reason, reasonFor, end)
  }
}

function batchOf(subject: Subject, size: number, seed: number, copies: ReadonlyMap<string, readonly number[]>): InputRow[] {
  // No record is in a batch twice, nor is it copied there beside: rows are left out for that.
  const kinds = generator()
    .sample(ideas(subject), { seed, numRuns: 3 * size })
    .filter(({ event }) => event !== 'copy')
  const ids = new Map(
    [...copies].map(([table, made]) => [table, [...subject.records.get(table)!.map(({ id }) => id), ...made].values()]),
  )
  const rows = kinds.flatMap((idea, place) => {
    if (idea.id === null) return [inputOf(subject, idea, place)]
    const id = ids.get(idea.table)?.next().value
    return id === undefined ? [] : [inputOf(subject, { ...idea, id }, place)]
  })
  return withoutTwins(subject.environment.project.tables, rows).slice(0, size)
}

/** Leaves rows out as long as it still breaks: halves first, single ones in the end. */
function smaller(rows: InputRow[], reason: string, reasonFor: (rows: InputRow[]) => string | null, end: number) {
  for (let part = Math.ceil(rows.length / 2); ; part = Math.ceil(part / 2)) {
    for (let from = 0; from < rows.length && performance.now() < end;) {
      const fewer = [...rows.slice(0, from), ...rows.slice(from + part)]
      const still = fewer.length > 0 ? reasonFor(fewer) : null
      if (still === null) from += part
      else [rows, reason] = [fewer, still]
    }
    if (part === 1) return { rows, reason }
  }
}

import type { InputRow } from '@patient-hook/contract'
import { forBatches } from '../for-batches.js'
import type { BulkProperty } from '../property.js'
import type { Subject } from '../subject.js'
import { oneByOne, trial } from '../trial.js'
import { failureWord } from '../words.js'
import { compareWithSingles } from './batch-equals-singles.js'

export const emptyAndRepeatedLinks: BulkProperty = {
  name: 'empty-and-repeated-links',
  prove: (aim, effort) =>
    forBatches(aim, effort, (subject, all) => {
      const rows = relinked(subject, all)
      // Refused is well; an error of the code is not.
      const thrown = trial(subject, oneByOne(rows), {}, (of) =>
        [...of.errors].find(([, error]) => [error, ...(error.refusals ?? [])].some(({ code }) => code === 'hook/threw')),
      )
      if (thrown) return `row ${thrown[0] + 1} fails: ${failureWord(thrown[1])}`
      return compareWithSingles(subject, rows)
    }),
}

/** Every link in turn: all rows with the same one, but the first of them with none. */
function relinked(subject: Subject, rows: readonly InputRow[]): InputRow[] {
  return rows.map((row, index) => {
    if (row.remove) return row
    const links = subject.environment.project.tables.get(row.table)!.fields.filter((field) => field.link)
    const shared = links.flatMap((field) => {
      const [record] = subject.records.get(field.link!.table) ?? []
      const isTyped = row.id === undefined || field.name in (row.values ?? {})
      return isTyped ? [[field.name, index === 0 ? null : (record?.id ?? null)] as const] : []
    })
    return { ...row, values: { ...row.values, ...Object.fromEntries(shared) } }
  })
}

import type { InputRow, RecordValues } from '@patient-hook/contract'
import { forBatches } from '../for-batches.js'
import type { BulkProperty } from '../property.js'
import { accepted, together, trial } from '../trial.js'

export const savingAgain: BulkProperty = {
  name: 'saving-again-changes-nothing',
  prove: (aim, effort) =>
    forBatches(aim, effort, (subject, all) => {
      const rows = accepted(subject, all, (good) => good.map((place) => all[place]!))
      if (rows.length === 0) return null
      return trial(subject, together(rows), {}, (first, save) => {
        if (first.errors.size > 0) return null
        const standing = new Map(first.records.map(({ table, id, now }) => [`${table} ${id}`, now]))
        const again = [...first.typed.values()].flatMap(({ table, id }): InputRow[] => {
          const record: RecordValues | null | undefined = standing.get(`${table} ${id}`)
          return record ? [{ table, id, values: { ...record } }] : []
        })
        if (again.length === 0) return null
        const outcome = save(again)
        if (outcome.error) return null
        const row = outcome.rows.find((each) => each.changes.length > 0)
        if (row) {
          const { field, from, to, by } = row.changes[0]!
          return `saved again as it stands, ${row.table} gets ${field} ${JSON.stringify(to)} for ${JSON.stringify(from)}, by ${by}`
        }
        const [sent] = outcome.sent
        return sent ? `saved again as it stands, it sends to ${sent.channel} once more, by ${sent.hook}` : null
      })
    }),
}

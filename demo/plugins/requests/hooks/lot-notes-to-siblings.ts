import { defineHook } from 'patient-hook'

/** Handling notes of a lot go to the other lots of its collection, not to itself. */
export default defineHook({
  table: 'lot',
  moment: 'after-save',
  on: ['update'],
  watch: ['handling_notes'],
  // A lot in quarantine has notes of its own.
  only: (row) => row.now.status !== 'quarantine' && row.now.handling_notes !== null,
  // The other lots that it writes to need not pass the notes on again.
  ripples: 'others',
  finish({ rows, store, update }) {
    // Of lots of one collection that are changed in one save, the last one speaks for all.
    const last = new Map(rows.map((row) => [row.now.collection, row]))
    const lots = store.children('lot', 'collection', last.keys(), ['status'])
    for (const [collection, row] of last)
      for (const lot of lots.get(collection) ?? [])
        if (lot.id !== row.id && lot.status !== 'quarantine') update('lot', lot.id, { handling_notes: row.now.handling_notes })
  },
})

import { defineHook } from 'patient-hook'

/** Handling notes of a lot go to the other lots of its collection, not to itself. */
export default defineHook({
  table: 'lot',
  moment: 'after-save',
  on: ['update'],
  watch: ['handling_notes'],
  // A lot in quarantine has notes of its own.
  only: (row) => row.now.status !== 'quarantine' && row.now.handling_notes !== null,
  load: ({ rows, store }) =>
    store.children(
      'lot',
      'collection',
      rows.map((row) => row.now.collection),
      ['status'],
    ),
  each(row, lots, { update }) {
    for (const lot of lots.get(row.now.collection) ?? [])
      if (lot.id !== row.id && lot.status !== 'quarantine') update('lot', lot.id, { handling_notes: row.now.handling_notes })
  },
})

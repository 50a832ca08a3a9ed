import { defineHook } from 'patient-hook'

/** Handling notes of a lot go to the other lots of its collection, not to itself. */
export default defineHook({
  table: 'lot',
  moment: 'after-save',
  on: ['update'],
  watch: ['handling_notes'],
  // A lot in quarantine has its own notes.
  only: (row) => row.now.status !== 'quarantine' && row.now.handling_notes !== null,
  // The other lots that it writes to need not pass the notes on again.
  ripples: 'others',
  finish({ rows, update }) {
    // Of lots of one collection that are changed in one save, the last one speaks for all.
    const last = new Map(rows.map((row) => [row.now.collection, row]))
    for (const [collection, row] of last) {
      const { handling_notes } = row.now
      update('lot', { collection, id: { not: row.id }, status: { not: 'quarantine' } }, { handling_notes })
    }
  },
})

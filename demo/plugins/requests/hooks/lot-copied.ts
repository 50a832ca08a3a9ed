import { defineHook } from 'patient-hook'

/** A lot that was copied from another says so, after the notes it brought along; a fresh one does not. */
export default defineHook({
  table: 'lot',
  moment: 'before-save',
  on: ['create'],
  after: ['lot-from-collection'],
  only: (row) => row.copiedFrom !== null,
  each(row) {
    row.now.handling_notes = [row.now.handling_notes, `copied from lot ${row.copiedFrom}`].filter((part) => part).join('; ')
  },
})

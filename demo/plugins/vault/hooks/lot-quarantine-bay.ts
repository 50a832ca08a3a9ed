import { defineHook } from 'patient-hook'

/** A lot that comes into quarantine moves to the quarantine bay, and the bay it had is kept in the handling notes. */
export default defineHook({
  table: 'lot',
  moment: 'before-save',
  on: ['update'],
  watch: ['status'],
  only: (row) => row.became((lot) => lot.status === 'quarantine'),
  each(row) {
    row.now.handling_notes = [row.now.handling_notes, `was in bay ${row.was.bay ?? '(none)'}`].filter((part) => part).join('; ')
    row.now.bay = 'Q1'
    row.now.alarm = 'act'
  },
})

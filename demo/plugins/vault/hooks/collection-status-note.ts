import { defineHook } from 'patient-hook'

/** Says in the status note what the status was, what it is, since when, and by whom. */
export default defineHook({
  table: 'collection',
  moment: 'before-save',
  on: ['update'],
  watch: ['status'],
  each(row, _, { clock, user }) {
    row.now.status_note = `${row.was.status ?? 'no status'} → ${row.now.status ?? 'no status'} on ${clock.slice(0, 10)} by ${user}`
  },
})

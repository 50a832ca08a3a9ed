import { defineHook } from 'patient-hook'

const RANK = { low: 0, normal: 1, high: 2 }

/** When a request becomes more urgent, a message reports the old and the new urgency to the desk. */
export default defineHook({
  table: 'request',
  moment: 'after-save',
  on: ['update'],
  watch: ['urgency'],
  only: (row) => row.was.urgency !== null && row.now.urgency !== null && RANK[row.now.urgency] > RANK[row.was.urgency],
  each(row, _, { send, user }) {
    send('desk', { request: row.now.number, from: row.was.urgency, to: row.now.urgency, by: user })
  },
})

import { defineHook } from 'patient-hook'

/** Numbers new requests. */
export default defineHook({
  table: 'request',
  moment: 'before-save',
  on: ['create'],
  only: (row) => row.now.number === null,
  each(row, _, { next }) {
    row.now.number = next('request')
  },
})

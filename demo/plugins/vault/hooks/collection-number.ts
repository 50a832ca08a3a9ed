import { defineHook } from 'patient-hook'

/** Numbers new collections, a series for each kind. */
export default defineHook({
  table: 'collection',
  moment: 'before-save',
  on: ['create'],
  only: (row) => row.now.number === null,
  each(row, _, { next }) {
    row.now.number = next(row.now.kind)
  },
})

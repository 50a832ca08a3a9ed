import { defineHook } from 'patient-hook'

/** A new collection's label, from its own fields. */
export default defineHook({
  table: 'collection',
  moment: 'before-save',
  on: ['create'],
  after: ['collection-number'],
  only: (row) => row.now.label === null,
  each(row) {
    const parts = [row.now.number, row.now.kind, row.now.collected_on?.slice(0, 4)]
    row.now.label = parts.filter((part) => part !== null && part !== undefined).join(' / ')
  },
})

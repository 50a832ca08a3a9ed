import { defineHook } from 'patient-hook'

/** Where the site gives no contact, the collector is the contact. */
export default defineHook({
  table: 'collection',
  moment: 'before-save',
  after: ['collection-from-site'],
  only: (row) => row.now.keeper_contact === null,
  each(row) {
    row.now.keeper_contact = row.now.collector
  },
})

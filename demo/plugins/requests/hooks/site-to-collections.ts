import { defineHook } from 'patient-hook'

/** When a site's district or contact changes, all its collections take it over. */
export default defineHook({
  table: 'site',
  moment: 'after-save',
  on: ['update'],
  watch: ['district', 'keeper_contact'],
  each(row, _, { update }) {
    const { district, keeper_contact } = row.now
    update('collection', { site: row.id }, { district, keeper_contact })
  },
})

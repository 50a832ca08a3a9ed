import { defineHook } from 'patient-hook'

/** When a site's district or contact changes, all its collections take it over. */
export default defineHook({
  table: 'site',
  moment: 'after-save',
  on: ['update'],
  watch: ['district', 'keeper_contact'],
  load: ({ rows, store }) =>
    store.children(
      'collection',
      'site',
      rows.map((row) => row.id),
      [],
    ),
  each(row, collections, { update }) {
    const { district, keeper_contact } = row.now
    for (const { id } of collections.get(row.id) ?? []) update('collection', id, { district, keeper_contact })
  },
})

import { defineHook } from 'patient-hook'

/** A new collection takes district and contact from its site, unless they were typed. The site may be empty. */
export default defineHook({
  table: 'collection',
  moment: 'before-save',
  on: ['create'],
  watch: ['site'],
  load: ({ rows, store }) =>
    store.byId(
      'site',
      rows.map((row) => row.now.site),
      ['district', 'keeper_contact'],
    ),
  each(row, sites) {
    const site = sites.get(row.now.site)
    row.now.district ??= site?.district ?? null
    row.now.keeper_contact ??= site?.keeper_contact ?? null
  },
})

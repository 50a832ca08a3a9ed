import { defineHook } from 'patient-hook'

/** A request goes to the region of its partner garden, unless a region was typed. */
export default defineHook({
  table: 'request',
  moment: 'before-save',
  on: ['create'],
  watch: ['partner'],
  only: (row) => row.now.region === null,
  load: ({ rows, store }) =>
    store.byId(
      'partner',
      rows.map((row) => row.now.partner),
      ['region'],
    ),
  each(row, partners) {
    row.now.region = partners.get(row.now.partner)?.region ?? null
  },
})

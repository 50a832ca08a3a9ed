import { defineHook } from 'patient-hook'

/** A line of a request for restoration carries a note for the packers, unless it has one. */
export default defineHook({
  table: 'request_line',
  moment: 'before-save',
  watch: ['request'],
  only: (row) => row.now.note === null,
  load: ({ rows, store }) =>
    store.byId(
      'request',
      rows.map((row) => row.now.request),
      ['purpose'],
    ),
  each(row, requests) {
    if (requests.get(row.now.request)?.purpose === 'restoration') row.now.note = 'pack for sowing in the field'
  },
})

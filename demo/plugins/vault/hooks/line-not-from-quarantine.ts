import { defineHook } from 'patient-hook'

/** No line may take seed from a lot in quarantine. */
export default defineHook({
  table: 'request_line',
  moment: 'before-save',
  watch: ['lot'],
  load: ({ rows, store }) =>
    store.byId(
      'lot',
      rows.map((row) => row.now.lot),
      ['status', 'accession'],
    ),
  each(row, lots) {
    const lot = lots.get(row.now.lot)
    if (lot?.status === 'quarantine') row.refuse('lot', `lot ${lot.accession ?? lot.id} is in quarantine: choose another lot`)
  },
})

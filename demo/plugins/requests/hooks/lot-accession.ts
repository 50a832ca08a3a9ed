import { defineHook } from 'patient-hook'

/** Numbers lots that have no accession number: new ones, and older ones when they are saved again. */
export default defineHook({
  table: 'lot',
  moment: 'before-save',
  only: (row) => row.now.accession === null,
  each(row, _, { next }) {
    row.now.accession = next('accession')
  },
})

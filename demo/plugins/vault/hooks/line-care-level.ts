import { defineHook } from 'patient-hook'

/** The care a line needs is the care its lot's species needs; shown while the lot is chosen. */
export default defineHook({
  table: 'request_line',
  moment: 'before-save',
  watch: ['lot'],
  load({ rows, store }) {
    const lots = store.byId(
      'lot',
      rows.map((row) => row.now.lot),
      ['species'],
    )
    return {
      lots,
      species: store.byId(
        'species',
        [...lots.values()].map((lot) => lot.species),
        ['care_level'],
      ),
    }
  },
  each(row, { lots, species }) {
    // on purpose: the care follows the lot, whatever was typed
    row.now.care_level = species.get(lots.get(row.now.lot)?.species)?.care_level ?? null
  },
})

import { defineHook } from 'patient-hook'

/** When the lot is chosen and no packet size was typed, the species' usual packet is taken. Tried out by one user. */
export default defineHook({
  table: 'request_line',
  moment: 'before-save',
  watch: ['lot'],
  // on purpose: a packet size that was typed, or taken from an earlier lot, stays
  only: (row) => row.now.seeds_per_packet === null,
  load({ rows, store }) {
    const lots = store.byId(
      'lot',
      rows.map((row) => row.now.lot),
      ['species'],
    )
    const species = store.byId(
      'species',
      [...lots.values()].map((lot) => lot.species),
      ['default_pack'],
    )
    return { lots, species }
  },
  each(row, { lots, species }) {
    const lot = lots.get(row.now.lot)
    row.now.seeds_per_packet = species.get(lot?.species)?.default_pack ?? null
  },
})

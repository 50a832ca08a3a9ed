import { defineHook } from 'patient-hook'
import { seedsInMass } from '../lib/thousand-seed'

/** Net mass from gross and tare, and the number of seeds in it. */
export default defineHook({
  table: 'lot',
  moment: 'before-save',
  watch: ['gross_mass_g', 'tare_mass_g', 'species'],
  after: ['lot-from-collection'],
  load: ({ rows, store }) =>
    store.byId(
      'species',
      rows.map((row) => row.now.species),
      ['thousand_seed_mass_g'],
    ),
  each(row, species) {
    const { gross_mass_g: gross, tare_mass_g: tare } = row.now
    if (gross === null || tare === null) return
    if (tare > gross) return row.refuse('tare_mass_g', `the tare of ${tare} g is more than the gross mass of ${gross} g`)
    row.now.net_mass_g = Math.round((gross - tare) * 1000) / 1000
    const mass = species.get(row.now.species)?.thousand_seed_mass_g
    row.now.seed_estimate = mass ? seedsInMass(row.now.net_mass_g, mass) : null
  },
})

import { describe, expect, test } from 'patient-hook/test'
import { coefficientOfVariation, seedsInMass, thousandSeedMass } from '../lib/thousand-seed'

describe('thousand-seed mass', () => {
  // ISTA, International Rules for Seed Testing, chapter 10: the formulas, from memory; the eight masses are made up.
  // Worked by hand: Σx = 6.05, n Σx² − (Σx)² = 8 × 4.5779 − 36.6025 = 0.0207, s² = 0.0207 / 56, s = 0.019226.
  const replicates = [0.75, 0.74, 0.77, 0.76, 0.73, 0.78, 0.75, 0.77]

  test('is the mean of eight hundreds, times ten', () => {
    expect(thousandSeedMass(replicates)).toBeCloseTo(7.5625, 6)
  })

  test('has a coefficient of variation within 4.0', () => {
    const s = Math.sqrt((8 * 4.5773 - 6.05 ** 2) / 56)
    expect(coefficientOfVariation(replicates)).toBeCloseTo((s / 0.75625) * 100, 4)
    expect(coefficientOfVariation(replicates)).toBeLessThanOrEqual(4.0)
  })

  test.each([
    [100, 0.5, 200000],
    [150, 7.5, 20000],
    [1200, 240, 5000],
    [1, 3, 333],
  ])('%s g at %s g a thousand are %s seeds', (net, mass, seeds) => {
    expect(seedsInMass(net, mass)).toBe(seeds)
  })
})

describe('a lot’s masses', () => {
  test('give net mass and seeds', { fixtures: 'base' }, ({ save }) => {
    const lot = save('lot', { id: 3, gross_mass_g: 85, tare_mass_g: 10 })
    expect(lot).toMatchObject({ net_mass_g: 75, seed_estimate: 10000 })
  })

  test('need a thousand-seed mass for the estimate', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { collection: 1, species: 4, gross_mass_g: 20, tare_mass_g: 5 })).toMatchObject({
      net_mass_g: 15,
      seed_estimate: null,
    })
  })

  test('are not computed again when another field changes', { fixtures: 'base' }, ({ save, ran }) => {
    save('lot', { id: 1, bay: 'A9' })
    expect(ran('lot-mass')).toBe(0)
  })

  test('refuse a tare that is more than the gross mass', { fixtures: 'base' }, ({ save, refusal }) => {
    const refused = refusal(() => save('lot', { id: 1, tare_mass_g: 500 }))
    expect(refused).toMatchObject({ field: 'tare_mass_g', hook: 'lot-mass' })
  })
})

describe('a new lot', () => {
  test('copies from its collection and its latest sibling', { fixtures: 'base' }, ({ save }) => {
    const lot = save('lot', { collection: 1 })
    expect(lot).toMatchObject({ species: 1, collection_notes: 'dry day', handling_notes: 'keep dark' })
  })

  test('has nothing to copy without siblings and notes', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { collection: 3 })).toMatchObject({ species: 3, collection_notes: null, handling_notes: null })
  })

  test('a thousand at once cost two queries a batch and hook', { fixtures: 'base' }, ({ saveMany, spent }) => {
    const lots = saveMany(
      'lot',
      Array.from({ length: 1000 }, (_, i) => ({ collection: (i % 3) + 1, gross_mass_g: 20 + i, tare_mass_g: 10 })),
    )
    expect(lots[999]).toMatchObject({ collection: 1, net_mass_g: 1009, seed_estimate: 2018000 })
    expect(spent().queries).toBe(6)
  })
})

describe('quarantine', () => {
  test('moves the lot and keeps the old bay in the notes', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { id: 1, status: 'quarantine' })).toMatchObject({
      bay: 'Q1',
      alarm: 'act',
      handling_notes: 'keep dark; was in bay A3',
    })
  })

  test('does so once only', { fixtures: 'base' }, ({ save, ran }) => {
    save('lot', { id: 3, status: 'quarantine', moisture_pct: 6 })
    expect(ran('lot-quarantine-bay')).toBe(0)
  })
})

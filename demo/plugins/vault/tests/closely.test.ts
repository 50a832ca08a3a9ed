import { describe, expect, test } from 'patient-hook/test'

describe('a lot’s masses', () => {
  test('follow another species', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { id: 1, species: 2 })).toMatchObject({ net_mass_g: 100, seed_estimate: 13333 })
  })

  test('are left as they are while one of the two is missing', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { id: 1, gross_mass_g: null })).toMatchObject({ net_mass_g: 100, seed_estimate: 200000 })
    expect(save('lot', { id: 2, tare_mass_g: null })).toMatchObject({ net_mass_g: 50 })
  })

  test('are rounded to a milligram, up from the half', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { id: 1, gross_mass_g: 12.0019, tare_mass_g: 10 }).net_mass_g).toBe(2.002)
  })

  test('are nothing for an empty bag', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { id: 1, gross_mass_g: 10, tare_mass_g: 10 }).net_mass_g).toBe(0)
  })
})

describe('a new lot', () => {
  test('keeps the notes that were typed', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { collection: 1, collection_notes: 'wet day', handling_notes: 'frail' })).toMatchObject({
      collection_notes: 'wet day',
      handling_notes: 'frail',
    })
  })

  test('takes nothing from a lot of the same species in another collection', { fixtures: 'base' }, ({ save }) => {
    save('lot', { collection: 2, species: 3, handling_notes: 'elsewhere' })
    expect(save('lot', { collection: 3 }).handling_notes).toBeNull()
  })
})

describe('a lot that comes into quarantine', () => {
  test('names the bay that it had, and keeps notes typed with it', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { id: 2, status: 'quarantine', bay: 'D4', handling_notes: 'mould' })).toMatchObject({
      bay: 'Q1',
      handling_notes: 'mould; was in bay A4',
    })
  })

  test('says so where it had none; another status moves nothing', { fixtures: 'base' }, ({ save }) => {
    const lot = save('lot', { collection: 3 })
    expect(save('lot', { id: lot.id, status: 'drying' }).bay).toBeNull()
    expect(save('lot', { id: lot.id, status: 'quarantine' }).handling_notes).toBe('was in bay (none)')
  })
})

describe('a new collection', () => {
  test('keeps a contact, a label and a number that were typed', { fixtures: 'base' }, ({ save }) => {
    expect(
      save('collection', { kind: 'wild', site: 1, keeper_contact: 'me@example.org', label: 'my own', number: 'HW-mine' }),
    ).toMatchObject({ keeper_contact: 'me@example.org', label: 'my own', number: 'HW-mine' })
  })

  test('takes its own site’s contact before its collector, in any row', { fixtures: 'base' }, ({ saveMany }) => {
    const collections = saveMany('collection', [
      { kind: 'wild', site: 1, collector: 'Oro Pell' },
      { kind: 'wild', site: 3, collector: 'Oro Pell' },
      { kind: 'wild', site: 2, collector: 'Wen Ashby' },
    ])
    expect(collections.map(({ keeper_contact }) => keeper_contact)).toEqual([
      'warden@upperhollin.example',
      'desk@stonereach.example',
      'Wen Ashby',
    ])
    expect(collections[2]?.district).toBe('Low Vale')
  })
})

describe('a collection', () => {
  test('whose contact is taken away has its collector', { fixtures: 'base' }, ({ save }) => {
    expect(save('collection', { id: 1, keeper_contact: null }).keeper_contact).toBe('Wen Ashby')
  })

  test('may lose and get its status', { fixtures: 'base', clock: '2026-02-03T08:00:00Z', user: 'ada' }, ({ save }) => {
    expect(save('collection', { id: 1, status: null }).status_note).toBe('stored → no status on 2026-02-03 by ada')
    expect(save('collection', { id: 1, status: 'draft' }).status_note).toBe('no status → draft on 2026-02-03 by ada')
  })
})

describe('lines that change their lot', () => {
  test('take the care of the new one, and lose it with the lot', { fixtures: 'base' }, ({ save }) => {
    expect(save('request_line', { id: 1, lot: 4, packets: 1, seeds_per_packet: 1 }).care_level).toBe('high')
    expect(save('request_line', { id: 1, lot: null }).care_level).toBeNull()
  })

  test('each take their own care level', { fixtures: 'base' }, ({ saveMany }) => {
    const lines = saveMany('request_line', [
      { request: 1, lot: 1 },
      { request: 1, lot: 4 },
      { request: 2, lot: 2 },
      { request: 2 },
    ])
    expect(lines.map(({ care_level }) => care_level)).toEqual(['normal', 'high', 'normal', null])
  })

  test('to one in quarantine are refused', { fixtures: 'base' }, ({ save, refusal }) => {
    expect(refusal(() => save('request_line', { id: 1, lot: 3 })).field).toBe('lot')
    expect(save('request_line', { id: 1, lot: null }).lot).toBeNull()
  })

  test('take the packet of the new one where theirs is emptied', { fixtures: 'base', user: 'ines' }, ({ save }) => {
    expect(save('request_line', { id: 1, lot: 4, seeds_per_packet: null }).seeds_per_packet).toBe(10)
    expect(save('request_line', { request: 2, packets: 1 }).seeds_per_packet).toBeNull()
  })
})

test('each of several requests goes to its own partner’s region', { fixtures: 'base' }, ({ saveMany }) => {
  expect(saveMany('request', [{ partner: 1 }, { partner: 2 }, { partner: 2 }]).map(({ region }) => region)).toEqual([
    'north',
    'overseas',
    'overseas',
  ])
})

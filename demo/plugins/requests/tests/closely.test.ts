import { describe, expect, test } from 'patient-hook/test'

describe('the desk hears of urgency', () => {
  test('with the number and both urgencies as they are now', { fixtures: 'base', user: 'ines' }, ({ save, sent }) => {
    save('request', { id: 2, urgency: 'high', number: 'R-000900', region: 'south' })
    expect(sent('desk')).toEqual([{ request: 'R-000900', from: 'low', to: 'high', by: 'ines' }])
  })
})

describe('lines that move to another request', () => {
  test('are counted there, and no longer where they were', { fixtures: 'base' }, ({ save, get }) => {
    save('request_line', { id: 1, request: 2 })
    expect(get('request', 1)).toMatchObject({ line_count: 0, total_seeds: 0 })
    expect(get('request', 2)).toMatchObject({ line_count: 1, total_seeds: 500 })
  })

  test('of several requests are counted in one save', { fixtures: 'base' }, ({ saveMany, get }) => {
    saveMany('request_line', [
      { request: 1, packets: 3 },
      { request: 2, packets: 2, seeds_per_packet: 7 },
    ])
    expect(get('request', 1)).toMatchObject({ line_count: 2, total_seeds: 500 })
    expect(get('request', 2)).toMatchObject({ line_count: 1, total_seeds: 14 })
  })

  test('without packets, or with nothing in them, hold no seeds', { fixtures: 'base' }, ({ saveMany, get }) => {
    saveMany('request_line', [
      { request: 2, seeds_per_packet: 40 },
      { request: 2, packets: 40 },
    ])
    expect(get('request', 2)).toMatchObject({ line_count: 2, total_seeds: 0 })
  })
})

describe('the packers’ note', () => {
  test('comes with a move to a request for restoration', { fixtures: 'base' }, ({ save }) => {
    save('request', { id: 2, purpose: 'restoration' })
    expect(save('request_line', { id: 1, request: 2 }).note).toBe('pack for sowing in the field')
  })

  test('comes to each line by its own request, and not over a typed one', { fixtures: 'base' }, ({ save, saveMany }) => {
    save('request', { id: 2, purpose: 'restoration' })
    const lines = saveMany('request_line', [{ request: 1 }, { request: 2 }, { request: 2, note: 'by hand' }])
    expect(lines.map((line) => line.note)).toEqual([null, 'pack for sowing in the field', 'by hand'])
  })
})

describe('handling notes of a lot', () => {
  test('stay with it while it is in quarantine, and where they are empty', { fixtures: 'base' }, ({ save, get }) => {
    save('lot', { collection: 2 })
    save('lot', { id: 3, handling_notes: 'gloves' })
    expect(get('lot', 5)?.handling_notes).toBeNull()
    save('lot', { id: 1, handling_notes: null })
    expect(get('lot', 2)?.handling_notes).toBeNull()
    save('lot', { id: 2, handling_notes: 'cool' })
    expect(get('lot', 1)?.handling_notes).toBe('cool')
  })

  test('are not passed on again when another field changes', { fixtures: 'base' }, ({ save, get }) => {
    save('lot', { id: 1, moisture_pct: 6 })
    expect(get('lot', 2)?.handling_notes).toBeNull()
  })

  test('of a lot that acts on an alarm go on all the same', { fixtures: 'base' }, ({ save, get }) => {
    save('lot', { id: 1, alarm: 'act', handling_notes: 'look daily' })
    expect(get('lot', 2)?.handling_notes).toBe('look daily')
  })

  test(
    'go to the lots of the collection that it moves to, and to no lot of the same species',
    { fixtures: 'base' },
    ({ save, get }) => {
      const other = save('lot', { collection: 3, species: 1, handling_notes: 'apart' })
      save('lot', { id: 2, collection: 2, handling_notes: 'moved' })
      expect(get('lot', 1)?.handling_notes).toBe('keep dark')
      save('lot', { id: 1, handling_notes: 'home' })
      expect(get('lot', other.id)?.handling_notes).toBe('apart')
      const there = save('lot', { collection: 2, handling_notes: 'new' })
      save('lot', { id: 2, handling_notes: 'again' })
      expect(get('lot', there.id)?.handling_notes).toBe('again')
      save('lot', { id: 1, collection: 2, handling_notes: 'from far' })
      expect(get('lot', there.id)?.handling_notes).toBe('from far')
    },
  )

  test('of several collections go on in one save', { fixtures: 'base' }, ({ save, saveMany, get }) => {
    const there = save('lot', { collection: 3 })
    saveMany('lot', [
      { id: 1, handling_notes: 'cold' },
      { id: 4, handling_notes: 'warm' },
    ])
    expect(get('lot', 2)?.handling_notes).toBe('cold')
    expect(get('lot', there.id)?.handling_notes).toBe('warm')
  })
})

describe('a quarantine', () => {
  test('is reported once, of the lot itself, when it begins', { fixtures: 'base' }, ({ save, sent }) => {
    save('request_line', { request: 2, lot: 4, packets: 1 })
    save('request', { id: 2, status: 'open' })
    save('lot', { id: 1, status: 'quarantine' })
    expect(sent('partner-mail').map((mail) => (mail as { to: string }).to)).toEqual(['Fernery of Aldmere'])
  })

  test('of a lot that nobody asks for is reported to nobody', { fixtures: 'base' }, ({ save, sent }) => {
    save('request_line', { request: 2, lot: 4, packets: 1 })
    save('request', { id: 2, status: 'open' })
    save('lot', { id: 2, status: 'quarantine' })
    expect(sent('partner-mail')).toEqual([])
  })

  test('is all that is reported: another status is reported to nobody', { fixtures: 'base' }, ({ save, sent }) => {
    save('lot', { id: 1, status: 'drying' })
    expect(sent('partner-mail')).toEqual([])
  })
})

describe('what there is nothing of', () => {
  test('a site without collections changes none', { fixtures: 'base' }, ({ save, spent }) => {
    save('site', { id: 3, district: 'Far Reach' })
    expect(spent().ripples).toBe(0)
  })

  test('a quarantine is reported to nobody where the request is done', { fixtures: 'base' }, ({ save, sent }) => {
    save('request', { id: 1, status: 'sent' })
    save('lot', { id: 1, status: 'quarantine' })
    expect(sent('partner-mail')).toEqual([])
  })

  test('a line without packets or seeds asks for nothing of a lot', { fixtures: 'base' }, ({ saveAll, ref, get }) => {
    const [request] = saveAll([
      { table: 'request', values: { partner: 1 }, as: 'request' },
      { table: 'request_line', values: { request: ref('request'), lot: 4, seeds_per_packet: 6000 } },
      { table: 'request_line', values: { request: ref('request'), lot: 4, packets: 6000 } },
    ])
    expect(get('request', request.id)).toMatchObject({ line_count: 2, total_seeds: 0 })
  })
})

describe('a site', () => {
  test('hands on its contact as well', { fixtures: 'base' }, ({ save, get }) => {
    save('site', { id: 2, keeper_contact: 'hut@carrbottom.example' })
    expect(get('collection', 2)?.keeper_contact).toBe('hut@carrbottom.example')
  })

  test('among several hands on its own', { fixtures: 'base' }, ({ saveMany, get }) => {
    saveMany('site', [
      { id: 1, district: 'High Fell' },
      { id: 2, district: 'Deep Vale' },
      { id: 3, district: 'Far Reach' },
    ])
    expect(get('collection', 1)?.district).toBe('High Fell')
    expect(get('collection', 2)?.district).toBe('Deep Vale')
    expect(get('collection', 3)?.district).toBeNull()
  })
})

describe('numbers', () => {
  test('that were typed stay', { fixtures: 'base' }, ({ save }) => {
    expect(save('request', { partner: 1, number: 'R-special' }).number).toBe('R-special')
    expect(save('request', { partner: 1, requested_on: '2026-01-05' }).number).toBe('R-000700')
  })

  test('that were taken away come again when the lot is saved', { fixtures: 'base' }, ({ save }) => {
    expect(save('lot', { id: 1, accession: null }).accession).toBe('HV-00005000')
  })
})

test('a copied lot keeps the notes of its collection’s latest lot', { fixtures: 'base' }, ({ save, copy }) => {
  save('lot', { id: 2, handling_notes: 'brittle' })
  expect(copy('lot', 1, { handling_notes: null }).handling_notes).toBe('brittle; copied from lot 1')
})

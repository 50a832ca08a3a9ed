import { describe, expect, test } from 'patient-hook/test'

describe('a site’s change', () => {
  test('goes to all its collections and no other', { fixtures: 'base' }, ({ save, get, ran }) => {
    save('collection', { kind: 'wild', site: 1 })
    save('site', { id: 1, district: 'High Fell' })
    expect(get('collection', 1)?.district).toBe('High Fell')
    expect(get('collection', 4)?.district).toBe('High Fell')
    expect(get('collection', 2)?.district).toBe('Low Vale')
    expect(ran('site-to-collections')).toBe(1)
  })

  test('of another field wakes nothing', { fixtures: 'base' }, ({ save, ran, spent }) => {
    save('site', { id: 1, status: 'closed' })
    expect(ran('site-to-collections')).toBe(0)
    expect(spent().ripples).toBe(0)
  })
})

describe('handling notes', () => {
  test('go to the siblings, and come to rest', { fixtures: 'base' }, ({ save, get, history }) => {
    save('lot', { id: 1, handling_notes: 'keep cool' })
    expect(get('lot', 2)?.handling_notes).toBe('keep cool')
    expect(get('lot', 3)?.handling_notes).toBeNull()
    expect(history('lot', 2)).toMatchObject([
      { depth: 1, changes: [{ field: 'handling_notes', by: expect.stringMatching('requests/lot-notes-to-siblings') }] },
    ])
    expect(history('lot', 1)).toHaveLength(1)
  })
})

describe('numbers and copies', () => {
  test('lots without a number get one, in order', { fixtures: 'base' }, ({ saveMany }) => {
    expect(saveMany('lot', [{ collection: 1 }, { collection: 2 }]).map((lot) => lot.accession)).toEqual([
      'HV-00005000',
      'HV-00005001',
    ])
  })

  test('a copied lot is marked and keeps its text; a fresh one is not', { fixtures: 'base' }, ({ copy, save }) => {
    expect(copy('lot', 1).handling_notes).toBe('keep dark; copied from lot 1')
    expect(copy('lot', 1).accession).toBe('HV-00005001')
    expect(save('lot', { collection: 2 }).handling_notes).toBeNull()
  })
})

describe('messages', () => {
  test('partners of open requests hear of a quarantine, each once', { fixtures: 'base' }, ({ save, sent }) => {
    save('request_line', { request: 1, lot: 1, packets: 1 })
    save('lot', { id: 1, status: 'quarantine' })
    expect(sent('partner-mail')).toEqual([
      { to: 'Fernery of Aldmere', lot: 'HV-00000001', message: 'This lot is in quarantine for now.' },
    ])
    save('lot', { id: 1, moisture_pct: 6 })
    expect(sent('partner-mail')).toHaveLength(1)
  })

  test.each([
    ['normal', 'high', 1],
    ['normal', 'low', 0],
  ] as ['normal', 'high' | 'low', number][])(
    'urgency from %s to %s sends %s',
    { fixtures: 'base', user: 'ines' },
    (_, to, count, { save, sent }) => {
      save('request', { id: 1, urgency: to })
      expect(sent('desk')).toHaveLength(count)
    },
  )
})

describe('a request and its lines', () => {
  test('are saved together; lines read the header’s new values', { fixtures: 'base', user: 'ines' }, ({ saveAll, ref, get }) => {
    const [request, first] = saveAll([
      { table: 'request', values: { partner: 1, purpose: 'restoration' }, as: 'request' },
      { table: 'request_line', values: { request: ref('request'), lot: 1, packets: 2 } },
      { table: 'request_line', values: { request: ref('request'), lot: 4, packets: 3, note: 'by hand' } },
    ])
    expect(first.note).toBe('pack for sowing in the field')
    expect(get('request', request.id)).toMatchObject({ number: 'R-000700', region: 'north', line_count: 2, total_seeds: 530 })
  })

  test(
    'are refused as a whole when a lot does not hold enough',
    { fixtures: 'base', user: 'ines' },
    ({ saveAll, ref, refusal, rows }) => {
      const refused = refusal(() =>
        saveAll([
          { table: 'request', values: { partner: 1 }, as: 'request' },
          { table: 'request_line', values: { request: ref('request'), lot: 4, packets: 300, seeds_per_packet: 10 } },
          { table: 'request_line', values: { request: ref('request'), lot: 4, packets: 300, seeds_per_packet: 10 } },
        ]),
      )
      expect(refused.message).toBe('6000 seeds of lot HV-00000004 are asked for, which holds 5000')
      expect(rows('request')).toHaveLength(2)
    },
  )

  test('count again when a line goes, and go with the request', { fixtures: 'base' }, ({ remove, get, rows }) => {
    remove('request_line', 1)
    expect(get('request', 1)).toMatchObject({ line_count: 0, total_seeds: 0 })
    remove('request', 1)
    expect(rows('request_line')).toEqual([])
  })
})

import { describe, expect, test } from 'patient-hook/test'

describe('the packet size of a line', () => {
  test('comes from the species when it is empty', { fixtures: 'base', user: 'ines' }, ({ save }) => {
    expect(save('request_line', { request: 1, lot: 4, packets: 2 })).toMatchObject({ seeds_per_packet: 10, care_level: 'high' })
  })

  test('is kept when it was typed', { fixtures: 'base', user: 'ines' }, ({ save, ran }) => {
    expect(save('request_line', { request: 1, lot: 1, seeds_per_packet: 40 }).seeds_per_packet).toBe(40)
    expect(ran('line-seeds-from-species')).toBe(0)
  })

  test('is left empty for everybody but the pilot’s user', { fixtures: 'base', user: 'bram' }, ({ save, as }) => {
    expect(save('request_line', { request: 1, lot: 1 }).seeds_per_packet).toBeNull()
    as('ines', () => expect(save('request_line', { request: 1, lot: 1 }).seeds_per_packet).toBe(250))
  })

  test('is not looked up when another field changes', { fixtures: 'base', user: 'ines' }, ({ save, ran }) => {
    save('request_line', { id: 1, packets: 3 })
    expect(ran('line-seeds-from-species')).toBe(0)
    expect(ran('line-care-level')).toBe(0)
  })
})

test('a lot in quarantine is refused at its field', { fixtures: 'base' }, ({ save, refusal, rows }) => {
  const refused = refusal(() => save('request_line', { request: 1, lot: 3 }))
  expect(refused).toMatchObject({
    field: 'lot',
    hook: 'line-not-from-quarantine',
    message: 'lot HV-00000003 is in quarantine: choose another lot',
  })
  expect(rows('request_line')).toHaveLength(1)
})

test('the good lines are kept when some are refused', { fixtures: 'base' }, ({ saveMany }) => {
  const result = saveMany(
    'request_line',
    [
      { request: 1, lot: 1 },
      { request: 1, lot: 3 },
      { request: 1, lot: 2 },
    ],
    { partial: true },
  )
  expect(result.kept).toHaveLength(2)
  expect(result.refused).toMatchObject([{ row: 2, field: 'lot' }])
})

test('a request goes to its partner’s region unless one was typed', { fixtures: 'base' }, ({ save }) => {
  expect(save('request', { partner: 2 }).region).toBe('overseas')
  expect(save('request', { partner: 2, region: 'south' }).region).toBe('south')
})

import { describe, expect, test } from 'patient-hook/test'

describe('a collection’s status note', () => {
  test('says from and to', { fixtures: 'base', user: 'bram', clock: '2026-02-03T08:00:00Z' }, ({ save, ran }) => {
    const collection = save('collection', { id: 2, status: 'stored' })
    expect(collection.status_note).toBe('cleaned → stored on 2026-02-03 by bram')
    expect(ran('collection-status-note')).toBe(1)
  })

  test('is left alone when another field changes', { fixtures: 'base' }, ({ save, ran }) => {
    const collection = save('collection', { id: 1, collector: 'Ivo Lund' })
    expect(collection.status_note).toBe('dry day')
    expect(ran('collection-status-note')).toBe(0)
  })
})

describe('a new collection', () => {
  test('takes district and contact from its site', { fixtures: 'base' }, ({ save }) => {
    const collection = save('collection', { kind: 'wild', site: 1 })
    expect(collection).toMatchObject({ district: 'North Fell', keeper_contact: 'warden@upperhollin.example' })
  })

  test('keeps what was typed', { fixtures: 'base' }, ({ save }) => {
    expect(save('collection', { kind: 'wild', site: 1, district: 'High Fell' }).district).toBe('High Fell')
  })

  test('may have no site', { fixtures: 'base' }, ({ save, ran }) => {
    const collection = save('collection', { kind: 'exchange', collector: 'Wen Ashby' })
    expect(collection.district).toBeNull()
    expect(ran('collection-from-site')).toBe(0)
  })

  test('falls back on the collector as contact', { fixtures: 'base' }, ({ save }) => {
    expect(save('collection', { kind: 'wild', site: 2, collector: 'Oro Pell' }).keeper_contact).toBe('Oro Pell')
  })

  test('is numbered by kind and labelled from its own fields', { fixtures: 'base' }, ({ saveMany }) => {
    const [wild, garden, second] = saveMany('collection', [
      { kind: 'wild', collected_on: '2026-06-01' },
      { kind: 'garden' },
      { kind: 'wild' },
    ])
    expect(wild?.number).toBe('HW-00001000')
    expect(garden?.number).toBe('HG-00001000')
    expect(second?.number).toBe('HW-00001001')
    expect(wild?.label).toBe('HW-00001000 / wild / 2026')
  })

  test('does not follow its site when it is changed later', { fixtures: 'base' }, ({ save, ran }) => {
    expect(save('collection', { id: 1, site: 3 }).district).toBe('North Fell')
    expect(ran('collection-from-site')).toBe(0)
  })
})

import type { Field, Table } from '@patient-hook/contract'
import { describe, expect, test } from 'vitest'
import { conditionsOf, operatorsFor, whereOf, type Condition } from '../src/lib/conditions'

/** Conditions of lists and backfills: from what is typed to what is asked for, and back from an address. */

const field = (name: string, part: Partial<Field>): Field =>
  ({ name, type: 'string', format: null, enum: null, link: null, ...part }) as Field
const table = {
  name: 'lot',
  fields: [
    field('code', {}),
    field('mass', { type: 'number' }),
    field('site', { type: 'integer', link: { table: 'site', onDelete: 'refuse' } }),
    field('dry', { type: 'boolean' }),
    field('day', { format: 'date' }),
    field('kind', { enum: ['wild', 'garden'] }),
  ],
} as unknown as Table
const is = (name: string, operator: Condition['operator'], text = ''): Condition => ({ field: name, operator, text })

describe('conditions', () => {
  test('become values of the field’s type', () => {
    const { where, faults } = whereOf(table, [
      is('mass', 'gte', ' 1.50 '),
      is('mass', 'lt', '3'),
      is('site', 'eq', '7'),
      is('dry', 'eq', 'no'),
      is('code', 'like', 'HV-%'),
      is('day', 'gt', '2026-01-01'),
      is('kind', 'in', 'wild, garden'),
      is('id', 'in', '1,2'),
    ])
    expect(faults).toEqual({})
    expect(where).toEqual({
      mass: { gte: 1.5, lt: 3 },
      site: { eq: 7 },
      dry: { eq: false },
      code: { like: 'HV-%' },
      day: { gt: '2026-01-01' },
      kind: { in: ['wild', 'garden'] },
      id: { in: [1, 2] },
    })
  })

  test('empty and filled need no value; empty text is a value of text', () => {
    expect(whereOf(table, [is('code', 'empty'), is('mass', 'filled')]).where).toEqual({
      code: { empty: true },
      mass: { empty: false },
    })
    expect(whereOf(table, [is('code', 'eq', '')]).where).toEqual({ code: { eq: '' } })
  })

  test.each([
    [is('mass', 'eq', 'heavy'), /a number/],
    [is('site', 'eq', '1.5'), /a whole number/],
    [is('dry', 'eq', 'maybe'), /yes or no/],
    [is('mass', 'eq', ''), /a value/],
    [is('mass', 'in', '1, x'), /a number/],
    [is('gone', 'eq', 'x'), /no field gone/],
  ])('%j is reported as wrong', (condition, fault) => {
    expect(whereOf(table, [condition]).faults[0]).toMatch(fault)
  })

  test('two of the same kind on one field are reported', () => {
    expect(whereOf(table, [is('mass', 'gt', '1'), is('mass', 'gt', '2')]).faults[1]).toMatch(/twice/)
  })

  test('come back from an address as they were', () => {
    const conditions = [is('mass', 'gte', '1.5'), is('dry', 'eq', 'yes'), is('kind', 'in', 'wild, garden'), is('code', 'filled')]
    expect(conditionsOf(whereOf(table, conditions).where)).toEqual(conditions)
    expect(conditionsOf({ site: 7, code: null })).toEqual([is('site', 'eq', '7'), is('code', 'empty')])
  })

  test('each field offers what makes sense for it', () => {
    expect(operatorsFor(null)).not.toContain('empty')
    expect(operatorsFor(table.fields[0]!)).toContain('like')
    expect(operatorsFor(table.fields[1]!)).not.toContain('like')
    expect(operatorsFor(table.fields[2]!)).toEqual(['eq', 'not', 'empty', 'filled'])
  })
})

import { expect, test } from 'vitest'
import type { Field } from '@patient-hook/contract'
import { cellText, cellValue, fromClipboard, toClipboard } from '../src/lib/cell-values'

/** Cells as they are typed: nothing is altered by being typed in, and what does not fit stays as it is. */

const field = (type: Field['type']) => ({ type, name: 'f', label: 'F' }) as Field

test.each([
  ['integer', '12', 12],
  ['number', ' 1.50 ', 1.5],
  ['number', '007', '007'],
  ['number', '0.12345678901234567890123', '0.12345678901234567890123'],
  ['integer', 'many', 'many'],
  ['boolean', 'Yes', true],
  ['boolean', 'false', false],
  ['boolean', 'perhaps', 'perhaps'],
  ['string', '12', '12'],
  ['string', '""', ''],
  ['string', '', null],
] as const)('%s typed as %j', (type, text, value) => expect(cellValue(field(type), text)).toBe(value))

test('what is shown in a cell that is edited is what it was', () => {
  for (const value of [null, '', 'a', ' a ', '007']) expect(cellValue(field('string'), cellText(value))).toBe(value)
  for (const value of [null, 0, -1.5, 1e21]) expect(cellValue(field('number'), cellText(value))).toBe(value)
})

test('to a spreadsheet and back', () => {
  const cells = [
    ['a', 'two\nlines', 'tab\there'],
    ['', 'a "quote"', 'x'],
  ]
  expect(fromClipboard(toClipboard(cells))).toEqual(cells)
})

import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { numberIn } from '../../src/model/decimals.js'

/** Numbers as people write them, of which nothing may be lost. */

/** What a text says, and what is held, as the same fraction: exact, by whole numbers of any length. */
function isWhole(text: string, value: number): boolean {
  const parts = (of: string) => {
    const [, sign = '', whole = '', part = '', power = '0'] = /^(-?)(\d*)\.?(\d*)(?:e([+-]?\d+))?$/.exec(of)!
    return {
      digits: BigInt(`${sign}${whole}${part}` === sign ? `${sign}0` : `${sign}${whole}${part}`),
      power: Number(power) - part.length,
    }
  }
  const [said, held] = [parts(text), parts(String(value))]
  const least = Math.min(said.power, held.power)
  return said.digits * 10n ** BigInt(said.power - least) === held.digits * 10n ** BigInt(held.power - least)
}

const digits = (maxLength: number) => fc.string({ unit: fc.constantFrom(...'0123456789'), minLength: 1, maxLength })
const decimals = fc
  .record({ sign: fc.constantFrom('', '-'), whole: digits(18), part: fc.option(digits(18)) })
  .map(({ sign, whole, part }) => `${sign}${whole}${part === null ? '' : `.${part}`}`)

test('a decimal is read where a number holds all of it, and only then', () => {
  fc.assert(
    fc.property(decimals, (text) => {
      const read = numberIn(text)
      const isPlain = !/^-?0\d/.test(text)
      if (isPlain && isWhole(text, Number(text))) expect(read).toBe(Number(text))
      else expect(read).toBeUndefined()
    }),
    { numRuns: 3000 },
  )
})

describe('of other texts', () => {
  test.each([
    ['0', 0],
    ['-0', -0],
    ['0.50', 0.5],
    ['999999999999999', 999999999999999],
    ['0.000000000000001', 1e-15],
    ['9007199254740993', undefined],
    ['0.1000000000000000055', undefined],
    ['1e3', 1000],
    ['.5', 0.5],
    ['1.', 1],
    ['+1', 1],
    ['007', undefined],
    ['-00', undefined],
    ['00.5', undefined],
    ['1.2.3', undefined],
    ['-', undefined],
    ['.', undefined],
    ['', undefined],
    ['1,5', undefined],
    ['0x10', undefined],
    ['Infinity', undefined],
    ['1e-400', undefined],
  ])('%j is %j', (text, value) => {
    expect(numberIn(text)).toBe(value)
  })
})

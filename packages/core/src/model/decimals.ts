/** Decimal arithmetic on numbers as people write them: 111848.18 is a multiple of 0.01, though neither is exact in binary. */

/** The shortest decimal that reads as this number: digits × 10^exponent (ECMAScript Number::toString). */
function decimalOf(value: number): { digits: bigint; exponent: number } {
  const [, sign = '', whole = '0', part = '', power = '0'] = /^(-?)(\d+)(?:\.(\d+))?(?:e([+-]\d+))?$/.exec(String(value))!
  return { digits: BigInt(`${sign}${whole}${part}`), exponent: Number(power) - part.length }
}

const WRITTEN = /^([+-]?)(\d*)(?:\.(\d*))?(?:e([+-]?\d{1,6}))?$/i

/**
 * The number that a text says, where no part of the text is lost: not `007`, not `1e-400`, not more digits than a
 * number holds. @returns undefined where it is not a number, or would be altered
 */
export function numberIn(text: string): number | undefined {
  const short = shortIn(text)
  if (short !== undefined) return short
  // As a number is written alone, which most are.
  const read = Number(text)
  if (String(read) === text) return Number.isFinite(read) ? read : undefined
  const parts = WRITTEN.exec(text)
  if (!parts || !/\d/.test(parts[2]! + (parts[3] ?? '')) || /^0\d/.test(parts[2]!)) return undefined
  const value = Number(text)
  if (!Number.isFinite(value)) return undefined
  const [, sign, whole, part = '', power = '0'] = parts
  const [said, held] = [
    plain({ digits: BigInt(`${sign === '-' ? '-' : ''}${whole}${part}`), exponent: Number(power) - part.length }),
    plain(decimalOf(value)),
  ]
  return said.digits === held.digits && said.exponent === held.exponent ? value : undefined
}

/** Digits of a decimal that any double gives back as they were: DBL_DIG of IEEE 754 binary64 (C11, 5.2.4.2.2). */
const EXACT_DIGITS = 15
const POWERS = Array.from({ length: EXACT_DIGITS + 1 }, (_, power) => 10 ** power)
const [MINUS, POINT, ZERO, NINE] = [45, 46, 48, 57]

/**
 * A decimal as JSON writes it, without a power, of so few digits that nothing is lost. Its digits and the power of ten that they are divided by are
 * both held exactly, so the quotient is the nearest number there is (IEEE 754, 5.4.1).
 */
function shortIn(text: string): number | undefined {
  const begin = text.charCodeAt(0) === MINUS ? 1 : 0
  const { length } = text
  // A zero that leads stands alone.
  if (text.charCodeAt(begin) === ZERO && length > begin + 1 && text.charCodeAt(begin + 1) !== POINT) return undefined
  let [value, digits, point] = [0, 0, -1]
  for (let at = begin; at < length; at++) {
    const code = text.charCodeAt(at)
    if (code >= ZERO && code <= NINE) {
      value = value * 10 + (code - ZERO)
      if (++digits > EXACT_DIGITS) return undefined
    } else if (code === POINT && point < 0 && digits > 0) point = at
    else return undefined
  }
  if (digits === 0 || point === length - 1) return undefined
  if (point >= 0) value /= POWERS[length - 1 - point]!
  return begin === 1 ? -value : value
}

/** Without zeros at the end. */
function plain({ digits, exponent }: { digits: bigint; exponent: number }): { digits: bigint; exponent: number } {
  if (digits === 0n) return { digits, exponent: 0 }
  while (digits % 10n === 0n) [digits, exponent] = [digits / 10n, exponent + 1]
  return { digits, exponent }
}

/** Is the value a whole number of times the step? @param step greater than 0 */
export function isMultipleOf(value: number, step: number): boolean {
  if (Number.isSafeInteger(value) && Number.isSafeInteger(step)) return value % step === 0
  const [a, b] = [decimalOf(value), decimalOf(step)]
  const least = Math.min(a.exponent, b.exponent)
  const scaled = ({ digits, exponent }: { digits: bigint; exponent: number }) => digits * 10n ** BigInt(exponent - least)
  return scaled(a) % scaled(b) === 0n
}

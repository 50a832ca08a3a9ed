/** Decimal arithmetic on numbers as people write them: 111848.18 is a multiple of 0.01, though neither is exact in binary. */

/** The shortest decimal that reads as this number: digits × 10^exponent (ECMAScript Number::toString). */
function decimalOf(value: number): { digits: bigint; exponent: number } {
  const [, sign = '', whole = '0', part = '', power = '0'] = /^(-?)(\d+)(?:\.(\d+))?(?:e([+-]\d+))?$/.exec(String(value))!
  return { digits: BigInt(`${sign}${whole}${part}`), exponent: Number(power) - part.length }
}

const WRITTEN = /^([+-]?)(\d*)(?:\.(\d*))?(?:e([+-]?\d{1,6}))?$/i

/**
 * The number that a text says, where nothing of the text is lost by it: not `007`, not `1e-400`, not more digits than a
 * number holds. @returns undefined where it is no number, or would be altered
 */
export function numberIn(text: string): number | undefined {
  // As a number is written by itself, which most are.
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

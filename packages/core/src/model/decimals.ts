/** Decimal arithmetic on numbers as people write them: 111848.18 is a multiple of 0.01, though neither is exact in binary. */

/** The shortest decimal that reads as this number: digits × 10^exponent (ECMAScript Number::toString). */
function decimalOf(value: number): { digits: bigint; exponent: number } {
  const [, sign = '', whole = '0', part = '', power = '0'] = /^(-?)(\d+)(?:\.(\d+))?(?:e([+-]\d+))?$/.exec(String(value))!
  return { digits: BigInt(`${sign}${whole}${part}`), exponent: Number(power) - part.length }
}

/** Is the value a whole number of times the step? @param step greater than 0 */
export function isMultipleOf(value: number, step: number): boolean {
  if (Number.isSafeInteger(value) && Number.isSafeInteger(step)) return value % step === 0
  const [a, b] = [decimalOf(value), decimalOf(step)]
  const least = Math.min(a.exponent, b.exponent)
  const scaled = ({ digits, exponent }: { digits: bigint; exponent: number }) => digits * 10n ** BigInt(exponent - least)
  return scaled(a) % scaled(b) === 0n
}

import type { VersionPart } from '@patient-hook/contract'

/** Versions of plugins, by semantic versioning (semver.org 2.0.0, from memory). */

const PARTS: readonly VersionPart[] = ['major', 'minor', 'patch']

const numbersOf = (version: string): number[] => version.split(/[-+]/)[0]!.split('.').map(Number)

/** The next version: what is smaller than the part begins at 0, what follows `-` or `+` goes. */
export function bumped(version: string, part: VersionPart): string {
  const at = PARTS.indexOf(part)
  return numbersOf(version)
    .map((number, index) => (index < at ? number : index === at ? number + 1 : 0))
    .join('.')
}

/** Is `a` newer than `b`? What follows `+` does not count; a version with `-` comes before the same without. */
export function isNewer(a: string, b: string): boolean {
  const [left, right] = [numbersOf(a), numbersOf(b)]
  for (const [index, number] of left.entries()) if (number !== right[index]) return number > right[index]!
  return b.split('+')[0]!.includes('-') && !a.split('+')[0]!.includes('-')
}

import fc from 'fast-check'
import semver from 'semver'
import { expect, test } from 'vitest'
import { bumped, isNewer } from '../../src/release/versions.js'

/** Versions, against semver, a library that we did not write (semver.org 2.0.0). */

const number = fc.integer({ min: 0, max: 30 })
const version = fc
  .tuple(number, number, number, fc.constantFrom('', '', '-rc', '+build.5', '-rc+build'))
  .map(([major, minor, patch, more]) => `${major}.${minor}.${patch}${more}`)

test('the next version', () => {
  fc.assert(
    fc.property(version, fc.constantFrom('major', 'minor', 'patch'), (from, part) => {
      // semver takes a version with - as the one that is on its way; ours always goes up, since the one before was released.
      const plain = from.split(/[-+]/)[0]!
      expect(bumped(from, part)).toBe(semver.inc(plain, part))
    }),
  )
})

test('which is newer', () => {
  fc.assert(
    fc.property(version, version, (a, b) => {
      expect(isNewer(a, b)).toBe(semver.gt(a, b))
    }),
  )
})

import { isUtf8 } from 'node:buffer'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { encodingProblem } from '../src/formats/encoding.js'

/** Bytes that are no UTF-8 are reported with the first of them; the platform's own decoder is asked what is and what is not. */

const strict = new TextDecoder('utf-8', { fatal: true })
const isText = (bytes: Uint8Array): boolean => {
  try {
    strict.decode(bytes)
    return true
  } catch {
    return false
  }
}

test.each([
  [Buffer.from('caf\xe9', 'latin1'), /byte 3 \(0xe9\)/],
  [Buffer.from('\xe9t\xe9', 'latin1'), /byte 0 \(0xe9\)/],
  [Buffer.from('äöü\xff', 'latin1'), /byte 0/],
  [Buffer.concat([Buffer.from('äöü'), Buffer.from([0xff]), Buffer.from('ok')]), /byte 6 \(0xff\)/],
  [Buffer.concat([Buffer.from('😀'), Buffer.from([0xc3, 0x28])]), /byte 4 \(0xc3\)/],
  [Buffer.from('\ufeffx', 'utf16le'), /UTF-16 \(little endian\)/],
  [Buffer.from('😀').subarray(0, 3), /byte 0/],
])('%j', (bytes, said) => expect(encodingProblem(bytes)).toMatch(said))

test('says something exactly where the platform cannot decode', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.uint8Array({ maxLength: 12 }),
        fc.string({ unit: 'binary' }).map((text) => new Uint8Array(Buffer.from(text))),
      ),
      (bytes) => {
        expect(encodingProblem(bytes) === null).toBe(isText(bytes))
        expect(encodingProblem(bytes, isUtf8)).toBe(encodingProblem(bytes))
      },
    ),
    { numRuns: 5000 },
  )
})

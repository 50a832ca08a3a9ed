/** Is it UTF-8, and if not, what and where: bytes that are read as something else would be altered without a word. */

type IsUtf8 = (bytes: Uint8Array) => boolean

const strict = new TextDecoder('utf-8', { fatal: true })

/** By the decoder, which browsers have too. */
function decodes(bytes: Uint8Array): boolean {
  try {
    strict.decode(bytes)
    return true
  } catch {
    return false
  }
}

/**
 * Where bytes are no UTF-8, and what they may be instead, in words; null where they are.
 * @param isUtf8 Node's own makes no text of the bytes to find out
 */
export function encodingProblem(bytes: Uint8Array, isUtf8: IsUtf8 = decodes): string | null {
  if (isUtf8(bytes)) return null
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'it is UTF-16 (little endian)'
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'it is UTF-16 (big endian)'
  const at = firstBad(bytes, isUtf8)
  return `byte ${at} (0x${bytes[at]!.toString(16).padStart(2, '0')}) is no UTF-8; it may be Latin-1`
}

/** The offset of the first byte that is no UTF-8, from 0: the longest good beginning, found by halving. */
function firstBad(bytes: Uint8Array, isUtf8: IsUtf8): number {
  // A beginning that is cut within a character is good when the up to three bytes of that character are left out.
  const isGood = (length: number) => [0, 1, 2, 3].some((back) => length >= back && isUtf8(bytes.subarray(0, length - back)))
  let [good, bad] = [0, bytes.length]
  while (bad - good > 1) {
    const middle = (good + bad) >> 1
    if (isGood(middle)) good = middle
    else bad = middle
  }
  const ends = [3, 2, 1, 0].map((back) => good - back)
  return (
    ends.find(
      (length) =>
        length >= 0 && isUtf8(bytes.subarray(0, length)) && !isUtf8(bytes.subarray(0, length + 1)) && !isGood(length + 4),
    ) ?? good
  )
}

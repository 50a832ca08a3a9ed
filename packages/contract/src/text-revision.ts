/**
 * Tells one state of a text from another: the same for the same text, in the interface and in an engine.
 * @returns 16 hexadecimal digits: 32-bit FNV-1a hashes of its UTF-16 units, from both ends
 */
export function textRevision(text: string): string {
  const hash = (from: number, step: number): string => {
    let value = 0x811c9dc5
    for (let at = from, left = text.length; left > 0; at += step, left--)
      value = Math.imul(value ^ text.charCodeAt(at), 0x01000193)
    return (value >>> 0).toString(16).padStart(8, '0')
  }
  return hash(0, 1) + hash(text.length - 1, -1)
}

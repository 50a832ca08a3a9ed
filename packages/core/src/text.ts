/** Longest message that is reported, in characters. */
export const LONGEST_MESSAGE = 2000
/** Text that is longer is not even cut, since that would have to put it together first. */
const LONGEST_CUT = 1_000_000

/** A text short enough to be reported. */
export function cut(text: string, longest = LONGEST_MESSAGE): string {
  if (text.length > LONGEST_CUT) return `a text of ${text.length} characters`
  return text.length > longest ? `${text.slice(0, longest - 1)}…` : text
}

/** The order in which people look for names: Table 2 before Table 10, whatever the case. */
export const natural = new Intl.Collator('en', { numeric: true, sensitivity: 'base' }).compare

const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '')

/** Does one of the texts contain what was typed, whatever stands between the letters? */
export const contains = (texts: readonly string[], typed: string): boolean =>
  texts.some((text) => plain(text).includes(plain(typed)))

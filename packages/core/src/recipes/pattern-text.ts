import parser, { type CharacterClass, type RootNode } from 'regjsparser'

/** A text that matches the pattern of a field, made from the pattern's syntax tree. */

const DIGITS = '0123456789'
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'
const WORD = `${LETTERS}${LETTERS.toLowerCase()}${DIGITS}_`
const ESCAPED: Record<string, string> = { d: DIGITS, w: WORD, s: ' ', D: LETTERS, W: '-', S: LETTERS }

/**
 * @param n several n give different texts where the pattern allows it
 * @returns null for a pattern with look-arounds, references or negated classes that this cannot satisfy
 */
export function patternText(pattern: string, n: number): string | null {
  let left = n
  /** One of so many, so that each n takes another path. */
  const pick = (count: number): number => {
    const choice = left % count
    left = Math.floor(left / count)
    return choice
  }
  const one = (characters: string): string => characters[pick(characters.length)] ?? ''

  function write(node: RootNode): string {
    switch (node.type) {
      case 'alternative':
        // The last part varies first: AA01, AA02.
        return node.body.map(write).join('')
      case 'disjunction':
        return write(node.body[pick(node.body.length)]!)
      case 'group':
        return node.body.map(write).join('')
      case 'quantifier':
        return Array.from({ length: Math.max(node.min, node.max === 0 ? 0 : 1) }, () => node.body.map(write).join('')).join('')
      case 'value':
        return String.fromCodePoint(node.codePoint)
      case 'dot':
        return one(LETTERS)
      case 'characterClassEscape':
        return one(ESCAPED[node.value] ?? '')
      case 'characterClass':
        return one(charactersOf(node))
      default:
        return ''
    }
  }
  const text = write(parser.parse(pattern, 'u'))
  return new RegExp(pattern, 'u').test(text) ? text : null
}

function charactersOf(node: CharacterClass): string {
  const listed = node.body
    .map((part) => {
      if (part.type === 'characterClassRange')
        return Array.from({ length: Math.min(64, part.max.codePoint - part.min.codePoint + 1) }, (_, index) =>
          String.fromCodePoint(part.min.codePoint + index),
        ).join('')
      if (part.type === 'value') return String.fromCodePoint(part.codePoint)
      return part.type === 'characterClassEscape' ? (ESCAPED[part.value] ?? '') : ''
    })
    .join('')
  return node.negative ? [...WORD].filter((each) => !listed.includes(each)).join('') : listed
}

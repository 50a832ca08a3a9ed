import { isSafePattern } from 'redos-detector'
import parser, { type Group, type Quantifier, type RootNode } from 'regjsparser'
import type { TableRule } from './types.js'

/**
 * A pattern that repeats a part which can match one text in more than one way takes time that doubles with each character of a text
 * that does not match. Each repeated part is looked at by itself, so that a pattern which is merely slow on long texts passes.
 */

type Node = RootNode | Quantifier
const FEATURES = { lookbehind: true, namedGroups: true, unicodePropertyEscape: true } as const
/** Repeated up to so often, a part counts as repeated without end. */
const OFTEN = 10
/** Deterministic bounds of the search; a timeout would depend on the machine. */
const SEARCH = { maxSteps: 20_000, maxScore: 100, timeout: Infinity, unicode: true } as const

const bodies = (node: Node): Node[] => ('body' in node && Array.isArray(node.body) ? (node.body as Node[]) : [])

/** Texts of the parts that are repeated, without what they are repeated by. */
function* repeated(node: Node): Generator<string> {
  if (node.type === 'quantifier') {
    const { max, body } = node as Quantifier
    const [inner] = body
    if ((max === undefined || max >= OFTEN) && inner && inner.type === 'group') yield bodyText(inner as Group)
  }
  for (const child of bodies(node)) yield* repeated(child)
}

/** What stands in a group's parentheses. */
function bodyText(group: Group): string {
  const text = group.raw
  const head = /^\((\?:|\?<[^>=!]+>)?/.exec(text)![0].length
  return text.slice(head, -1)
}

/** The first repeated part that can match one text in several ways; null where there is none, or no pattern can be read. */
export function ambiguousPart(pattern: string): string | null {
  let tree: Node
  try {
    tree = parser.parse(pattern, 'u', FEATURES) as Node
  } catch {
    return null
  }
  for (const part of repeated(tree)) {
    try {
      const { safe, error } = isSafePattern(`^(?:${part})*$`, SEARCH)
      if (!safe && error !== 'hitMaxSteps') return part
    } catch {
      // It has a part that the search does not know.
    }
  }
  return null
}

export const slowPattern: TableRule = {
  meta: {
    name: 'slow-pattern',
    severity: 'error',
    title: 'A pattern that backtracks without end',
    why: 'A text that nearly matches is tried in more ways than there is time for: the save that brings it is stopped. Write the repeated part so that it can match a text in one way only.',
  },
  examples: {
    pass: [
      { pattern: '^[A-Z]{2}-\\d{4}$' },
      { pattern: '^[^@]+@[^@]+\\.[a-z]+$' },
      { pattern: '^(?:[0-9a-f]{2}:){5}[0-9a-f]{2}$' },
      { pattern: '^\\s*\\S+\\s*$' },
      { pattern: '^([^,]*,)*$' },
      { pattern: '^(\\d{3}-)*\\d+$' },
      { pattern: '^\\p{L}+( \\p{L}+)*$' },
    ],
    fail: [
      { pattern: '^(a+)+$' },
      { pattern: '^(a|a)*$' },
      { pattern: '^(\\d+|[a-z]+)*$' },
      { pattern: '(x+x+)+y' },
      { pattern: '^(([a-z])+.)+[A-Z]([a-z])+$' },
      { pattern: '^(\\w*\\s?)*$' },
    ],
  },
  look: ({ pattern, name }, table) => {
    const part = pattern === null ? null : ambiguousPart(pattern)
    return part === null
      ? null
      : {
          keyword: 'pattern',
          message: `The pattern of ${table.name}.${name} repeats (${part}), which can match one text in several ways: a text that nearly matches takes for ever`,
        }
  },
}

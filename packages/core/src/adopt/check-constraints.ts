import type { SourceColumn } from './source.js'

/** What CHECK constraints of a CREATE TABLE statement say of single columns. */

type Said = Pick<SourceColumn, 'choices' | 'minimum' | 'maximum'>

const NAME = String.raw`["\x60\[]?([A-Za-z_]\w*)["\x60\]]?`
const NUMBER = String.raw`(-?\d+(?:\.\d+)?)`
const IN = new RegExp(String.raw`^${NAME}\s+IN\s*\((.*)\)$`, 'is')
const BETWEEN = new RegExp(String.raw`^${NAME}\s+BETWEEN\s+${NUMBER}\s+AND\s+${NUMBER}$`, 'is')
const BOUND = new RegExp(String.raw`^${NAME}\s*(>=|<=)\s*${NUMBER}$`, 'is')
const ABOVE = new RegExp(String.raw`^${NAME}\s*>\s*(-?\d+)$`, 'is')
const TEXTS = /^\s*'(?:[^']|'')*'(?:\s*,\s*'(?:[^']|'')*')*\s*$/s

/**
 * @param sql a CREATE TABLE statement
 * @param isInteger columns that hold whole numbers, for bounds that are not part of the range
 * @returns by column in lower case; and the constraints that say something else
 */
export function readChecks(
  sql: string,
  isInteger: (column: string) => boolean,
): { byColumn: ReadonlyMap<string, Said>; others: readonly string[] } {
  const byColumn = new Map<string, Said>()
  const others: string[] = []
  const say = (column: string, said: Partial<Said>): void => {
    const key = column.toLowerCase()
    byColumn.set(key, { choices: null, minimum: null, maximum: null, ...byColumn.get(key), ...said })
  }
  for (const part of checksIn(sql).flatMap(parts)) {
    const [, inColumn, list] = IN.exec(part) ?? []
    const [, between, low, high] = BETWEEN.exec(part) ?? []
    const [, bounded, sign, bound] = BOUND.exec(part) ?? []
    const [, above, least] = ABOVE.exec(part) ?? []
    if (inColumn !== undefined && TEXTS.test(list!))
      say(inColumn, { choices: [...list!.matchAll(/'((?:[^']|'')*)'/g)].map(([, text]) => text!.replaceAll("''", "'")) })
    else if (between !== undefined) say(between, { minimum: Number(low), maximum: Number(high) })
    else if (bounded !== undefined) say(bounded, sign === '>=' ? { minimum: Number(bound) } : { maximum: Number(bound) })
    else if (above !== undefined && isInteger(above)) say(above, { minimum: Number(least) + 1 })
    else others.push(part)
  }
  return { byColumn, others }
}

/** Conditions that all must hold, where they can be told apart. */
const parts = (check: string): string[] => (/['"()]|\bBETWEEN\b|\bOR\b/i.test(check) ? [check] : check.split(/\s+AND\s+/i))

/** The expressions of CHECK (…), without their outer brackets. */
function checksIn(sql: string): string[] {
  const checks: string[] = []
  const word = /'(?:[^']|'')*'|"(?:[^"]|"")*"|--[^\n]*|\bCHECK\s*\(/gi
  for (let match = word.exec(sql); match; match = word.exec(sql)) {
    if (!/^check/i.test(match[0])) continue
    const end = closingBracket(sql, word.lastIndex)
    checks.push(sql.slice(word.lastIndex, end).trim())
    word.lastIndex = end
  }
  return checks
}

/** @param from after the bracket that opens @returns the offset of the one that closes it */
function closingBracket(sql: string, from: number): number {
  const part = /'(?:[^']|'')*'|"(?:[^"]|"")*"|[()]/g
  part.lastIndex = from
  let depth = 1
  for (let match = part.exec(sql); match; match = part.exec(sql)) {
    if (match[0] === '(') depth++
    if (match[0] === ')' && --depth === 0) return match.index
  }
  return sql.length
}

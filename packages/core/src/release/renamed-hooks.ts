import type { Files } from '@patient-hook/contract'
import { hookOfPath } from '@patient-hook/contract/paths'

/** Hooks that got another name between two texts of plugins: known, as version control knows a moved file, by how alike the code is. */

/** Of what both texts have, the share that they have in common, from which one is taken for the other under a new name. */
const ALIKE = 0.6

/** What every hook has tells none from another. */
const SAME_IN_ALL = /^import .*$|\b(export default|defineHook|table|moment|row|rows|now|was|each)\b/gm

function wordsOf(text: string): Map<string, number> {
  const words = new Map<string, number>()
  for (const [word] of text.replace(SAME_IN_ALL, '').matchAll(/\w+/g)) words.set(word, (words.get(word) ?? 0) + 1)
  return words
}

/** @returns 0 to 1, by the words of both (Dice's coefficient on bags of words) */
export function likeness(one: string, other: string): number {
  const [left, right] = [wordsOf(one), wordsOf(other)]
  const size = (words: Map<string, number>) => [...words.values()].reduce((sum, count) => sum + count, 0)
  let common = 0
  for (const [word, count] of left) common += Math.min(count, right.get(word) ?? 0)
  const all = size(left) + size(right)
  return all === 0 ? 1 : (2 * common) / all
}

const hooksOf = (files: Files): Map<string, string> =>
  new Map(
    Object.entries(files)
      .flatMap(([path, text]) => [[hookOfPath(path)?.hook, text] as const])
      .filter(isHook),
  )
const isHook = (entry: readonly [string | undefined, string]): entry is readonly [string, string] => entry[0] !== undefined

/** @returns by the name before: the name after, for hooks that are gone and stand under another name that was not there */
export function renamedHooks(before: Files, after: Files): Map<string, string> {
  const [old, now] = [hooksOf(before), hooksOf(after)]
  const gone = [...old].filter(([name]) => !now.has(name))
  const fresh = [...now].filter(([name]) => !old.has(name))
  const pairs = gone
    .flatMap(([from, text]) => fresh.map(([to, other]) => ({ from, to, alike: likeness(text, other) })))
    .filter(({ alike }) => alike >= ALIKE)
    .sort((one, other) => other.alike - one.alike || one.from.localeCompare(other.from))
  const renamed = new Map<string, string>()
  for (const { from, to } of pairs) if (!renamed.has(from) && ![...renamed.values()].includes(to)) renamed.set(from, to)
  return renamed
}

/** Finds and replaces text in files, as the search panel of Write does. */

export interface CodeQuery {
  text: string
  matchCase: boolean
  /** Name of a plugin; null: every plugin. */
  plugin: string | null
}
export interface CodeMatch {
  file: string
  /** From 1. */
  line: number
  /** Offsets within the line. */
  start: number
  end: number
  text: string
}

/** More matches than this are not listed. */
export const MOST_MATCHES = 500

const patternOf = ({ text, matchCase }: CodeQuery): RegExp =>
  new RegExp(text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'), matchCase ? 'g' : 'gi')
const filesOf = (files: Readonly<Record<string, string>>, { plugin }: CodeQuery): [string, string][] =>
  Object.entries(files)
    .filter(([path]) => path.endsWith('.ts') && path.startsWith(plugin === null ? 'plugins/' : `plugins/${plugin}/`))
    .sort(([a], [b]) => (a < b ? -1 : 1))

/** @param files path to text @returns the first matches, in the order of files and lines */
export function searchCode(files: Readonly<Record<string, string>>, query: CodeQuery): CodeMatch[] {
  if (query.text === '') return []
  const pattern = patternOf(query)
  const matches: CodeMatch[] = []
  for (const [file, source] of filesOf(files, query))
    for (const [index, text] of source.split('\n').entries())
      for (const found of text.matchAll(pattern)) {
        matches.push({ file, line: index + 1, start: found.index, end: found.index + found[0].length, text })
        if (matches.length === MOST_MATCHES) return matches
      }
  return matches
}

/** @returns the texts that change */
export function replaceCode(
  files: Readonly<Record<string, string>>,
  query: CodeQuery,
  replacement: string,
): Record<string, string> {
  if (query.text === '') return {}
  const pattern = patternOf(query)
  return Object.fromEntries(
    filesOf(files, query)
      .map(([file, text]): [string, string] => [file, text.replace(pattern, () => replacement)])
      .filter(([file, text]) => text !== files[file]),
  )
}

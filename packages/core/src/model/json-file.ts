import { findNodeAtLocation, getNodePath, parseTree, type Node } from 'jsonc-parser'
import type { z } from 'zod'
import { HookError } from '../errors.js'
import { numberIn } from './decimals.js'
import { hintFor } from './names.js'
import { gotOf } from './values.js'

/** A JSON file of a project: its contents, and the line of whatever is wrong in it. */

export type JsonPath = readonly (string | number)[]

/** Words of other languages for the types of JSON Schema. */
const OTHER_WORDS: Record<string, string> = {
  bool: 'boolean',
  int: 'integer',
  long: 'integer',
  float: 'number',
  double: 'number',
  decimal: 'number',
  str: 'string',
  text: 'string',
  date: 'string, with "format": "date"',
  datetime: 'string, with "format": "date-time"',
}

/** Digits in such a number that it cannot be held whole, or a power. */
const SUSPECT = /[\d.]{16}|\d[eE][+-]?\d/

/** JSON types as zod names them, in words. */
const TYPES: Record<string, string> = {
  string: 'text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  object: 'an object',
  record: 'an object',
  array: 'a list',
  tuple: 'a list',
  null: 'null',
}

type Issue = z.core.$ZodIssue

export class JsonFile {
  readonly value: unknown
  #tree: Node | undefined

  /** @throws HookError project/bad-json */
  constructor(
    readonly file: string,
    readonly text: string,
  ) {
    this.text = text.replace(/^\uFEFF/, '')
    try {
      this.value = JSON.parse(this.text)
    } catch (error) {
      const detail = (error as Error).message.replace(/ in JSON at position \d+.*$/s, '')
      const at = /position (\d+)/.exec((error as Error).message)
      const line = at ? this.#lineAt(Number(at[1])) : this.#lineAt(this.text.length)
      throw new HookError('project/bad-json', { file, line, detail })
    }
  }

  /** The line of a value, or of the key named last where the value is not there; from 1. */
  lineOf(path: JsonPath): number {
    this.#tree ??= parseTree(this.text)
    for (let length = path.length; length > 0; length--) {
      const node = this.#tree && findNodeAtLocation(this.#tree, path.slice(0, length))
      // A property is where its key stands.
      if (node) return this.#lineAt((node.parent?.type === 'property' ? node.parent : node).offset)
    }
    return this.#lineAt(this.#tree?.offset ?? 0)
  }

  /** Numbers of which not all is read: `1e-400`, or more digits than a number holds. */
  alteredNumbers(): { path: JsonPath; text: string }[] {
    // Nearly no file has such numbers; only then it is worth looking at each.
    if (!SUSPECT.test(this.text)) return []
    this.#tree ??= parseTree(this.text)
    const altered: { path: JsonPath; text: string }[] = []
    const look = (node: Node): void => {
      const text = node.type === 'number' ? this.text.slice(node.offset, node.offset + node.length) : ''
      if (text !== '' && numberIn(text) === undefined) altered.push({ path: getNodePath(node), text })
      node.children?.forEach(look)
    }
    if (this.#tree) look(this.#tree)
    return altered
  }

  wrong(path: JsonPath, detail: string): HookError {
    return new HookError('project/bad-file', { file: this.file, line: this.lineOf(path), path: `/${path.join('/')}`, detail })
  }

  /** @param known the keys that an object at this path may have */
  faultsOf(issues: readonly Issue[], known: (path: JsonPath) => readonly string[] = () => []): HookError[] {
    return issues.flatMap((issue) => {
      const path = issue.path as JsonPath
      if (issue.code !== 'unrecognized_keys') return [this.wrong(path, this.#detailOf(issue, this.#at(path)))]
      return issue.keys.map((key) =>
        this.wrong([...path, key], `"${key}" is not a keyword that is understood here${hintFor(key, known(path))}`),
      )
    })
  }

  #at(path: JsonPath): unknown {
    return path.reduce<unknown>(
      (value, key) =>
        value !== null && typeof value === 'object' ? (value as Record<string | number, unknown>)[key] : undefined,
      this.value,
    )
  }

  #detailOf(issue: Issue, value: unknown): string {
    // A key that will not do is explained by the rule for keys.
    if (issue.code === 'invalid_key') return issue.issues[0]?.message ?? issue.message
    const expected = expectedBy(issue)
    if (expected === null) return issue.message
    if (value === undefined) return `expected ${expected}, but the value is missing`
    const choices = choicesOf(issue)
    const meant = typeof value === 'string' && choices.length > 0 ? OTHER_WORDS[value.toLowerCase()] : undefined
    const hint = meant ? `; did you mean ${meant}?` : typeof value === 'string' ? hintFor(value, choices) : ''
    return `expected ${expected}, but got ${gotOf(value)}${hint}`
  }

  #lineAt(offset: number): number {
    return this.text.slice(0, offset).split('\n').length
  }
}

/** What would have been right, in words; null where zod's own message says it. */
function expectedBy(issue: Issue): string | null {
  if (issue.code === 'invalid_type') return TYPES[issue.expected] ?? issue.expected
  if (issue.code === 'invalid_value') {
    const words = issue.values.map(String)
    return words.length === 1 ? words[0]! : `one of ${words.join(', ')}`
  }
  if (issue.code !== 'invalid_union') return null
  const parts = issue.errors.flatMap(([first]) => (first ? [expectedBy(first as Issue)] : []))
  const words = [...new Set(parts.filter((each) => each !== null))]
  return words.length > 0 ? words.join(', or ') : null
}

function choicesOf(issue: Issue): string[] {
  if (issue.code === 'invalid_value') return issue.values.map(String)
  if (issue.code !== 'invalid_union') return []
  return issue.errors.flatMap((errors) => errors.flatMap((each) => choicesOf(each as Issue)))
}

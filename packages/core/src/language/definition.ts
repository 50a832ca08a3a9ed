import ts from '#typescript'
import { definitionOf, initializer, property, stringList } from '../findings/uses.js'
import { treeOf } from '../syntax-tree.js'

/**
 * A hook's definition as a form shows it, read out of the code and written back into it. The code is the truth: nothing
 * is kept beside it, and a change touches no more of the text than the part it names.
 */
export interface Definition {
  table: string
  moment: string
  on: string[]
  watch: string[]
  after: string[]
  ripples: string
  /** Names of the parts that the literal has. */
  parts: string[]
  /** Parts among the above that are not plain text or lists of text, and so can be changed in the code only. */
  computed: string[]
}
export type DefinitionPart = 'table' | 'moment' | 'on' | 'watch' | 'after' | 'ripples'
export interface TextEdit {
  /** Offsets in the text, from 0. */
  start: number
  end: number
  text: string
}

const DEFAULT_ON = ['create', 'update']
const DEFAULT_RIPPLES = 'all'
const LISTS = ['on', 'watch', 'after'] as const
/** The order in which parts are written. */
const ORDER = ['table', 'moment', 'on', 'watch', 'only', 'after', 'ripples', 'touchedBy', 'load', 'each', 'finish']

/** @returns null where the file has no `defineHook({ … })` */
export function readDefinition(file: string, text: string): Definition | null {
  const literal = definitionOf(treeOf(file, text))
  if (!literal) return null
  const plain = (name: string): string => {
    const value = initializer(literal, name)
    return value && ts.isStringLiteralLike(value) ? value.text : ''
  }
  const list = (name: string) => stringList(initializer(literal, name)).map((each) => each.text)
  const parts = literal.properties.flatMap((each) =>
    each.name && (ts.isIdentifier(each.name) || ts.isStringLiteral(each.name)) ? [each.name.text] : [],
  )
  const computed = parts.filter((name) => {
    const value = initializer(literal, name)
    if (name === 'table' || name === 'moment' || name === 'ripples') return !value || !ts.isStringLiteralLike(value)
    if (!LISTS.some((each) => each === name)) return false
    return !value || !ts.isArrayLiteralExpression(value) || !value.elements.every(ts.isStringLiteralLike)
  })
  const on = list('on')
  return {
    table: plain('table'),
    moment: plain('moment'),
    on: parts.includes('on') ? on : DEFAULT_ON,
    watch: list('watch'),
    after: list('after'),
    ripples: plain('ripples') || DEFAULT_RIPPLES,
    parts,
    computed,
  }
}

const quoted = (text: string) => `'${text.replace(/\\/g, '\\\\').replace(/'/g, "\\'")}'`
const sameList = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((each) => b.includes(each))

/**
 * The edits that give a part another value. What is empty, or the default, is removed.
 * @returns no edits where the file has no definition or the part is computed
 */
export function changeDefinition(
  file: string,
  text: string,
  part: DefinitionPart,
  value: string | readonly string[],
): TextEdit[] {
  const source = treeOf(file, text)
  const literal = definitionOf(source)
  const known = readDefinition(file, text)
  if (!literal || !known || known.computed.includes(part)) return []
  const list = typeof value === 'string' ? null : value
  const gone = list
    ? list.length === 0 || (part === 'on' && sameList(list, DEFAULT_ON))
    : part === 'ripples' && value === DEFAULT_RIPPLES
  const found = property(literal, part)
  const sketch = part === 'moment' ? sketchEdit(text, known.moment, value as string) : []
  if (gone) return found ? [removal(text, literal, found)] : []
  const written = list ? `[${list.map(quoted).join(', ')}]` : quoted(value as string)
  if (found && ts.isPropertyAssignment(found))
    return [{ start: found.initializer.getStart(source), end: found.initializer.getEnd(), text: written }, ...sketch]
  // After the last of the parts that come before it in the usual order.
  const before = literal.properties.filter((each) => {
    const name = each.name?.getText(source)
    return name !== undefined && ORDER.indexOf(name) >= 0 && ORDER.indexOf(name) < ORDER.indexOf(part)
  })
  const last = before.at(-1)
  const onLines = literal.getText(source).includes('\n')
  const [first] = literal.properties
  const indent = first && onLines ? indentOf(text, first.getStart(source)) : '  '
  const entry = `${part}: ${written}`
  if (last) {
    // Behind the comma and what is shown of the last part on its line.
    const line = onLines ? /^,[ \t]*(\/\/[^\n]*)?(?=\n)/.exec(text.slice(last.getEnd())) : null
    const at = last.getEnd() + (line ? line[0].length : 0)
    if (line) return [{ start: at, end: at, text: `\n${indent}${entry},` }]
    return [{ start: at, end: at, text: onLines ? `,\n${indent}${entry}` : `, ${entry}` }]
  }
  const at = literal.getStart(source) + 1
  const comma = first ? ',' : ''
  return [{ start: at, end: at, text: onLines ? `\n${indent}${entry}${comma}` : ` ${entry}${comma}` }]
}

function indentOf(text: string, at: number): string {
  const start = text.lastIndexOf('\n', at - 1) + 1
  return /^\s*/.exec(text.slice(start, at))![0]
}

/** A property with its comma and, where it stands alone on them, its lines. */
function removal(text: string, literal: ts.ObjectLiteralExpression, found: ts.ObjectLiteralElementLike): TextEdit {
  let start = found.getStart()
  let end = found.getEnd()
  const comma = /^\s*,/.exec(text.slice(end, literal.getEnd()))
  if (comma) end += comma[0].length
  else {
    const before = /,\s*$/.exec(text.slice(0, start))
    if (before) start -= before[0].length
  }
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  const rest = /^[ \t]*(\/\/[^\n]*)?\n/.exec(text.slice(end))
  if (comma && text.slice(lineStart, start).trim() === '' && rest)
    return { start: lineStart, end: end + rest[0].length, text: '' }
  if (comma) end += /^[ \t]*/.exec(text.slice(end))![0].length
  return { start, end, text: '' }
}

export interface NewHook {
  table: string
  moment: string
  on: readonly string[]
  watch: readonly string[]
}

const SKETCH: Record<string, string> = {
  'before-save':
    'each(row) {\n    // Set values of the record: row.now.field = …; or row.refuse(field, message)\n    void row\n  },',
  'after-save':
    'each(row, _, { log }) {\n    // Ask for effects: update(table, id, values), create, remove, send\n    log(row.id)\n  },',
  'before-commit': 'each(row) {\n    // Look at the record as it will be kept: row.refuse(field, message)\n    void row\n  },',
}

/** A hook that still is what it began as gets the sketch of its new moment. */
function sketchEdit(text: string, from: string, to: string): TextEdit[] {
  const [old, next] = [SKETCH[from], SKETCH[to]]
  const start = old && next ? text.indexOf(old) : -1
  return start < 0 ? [] : [{ start, end: start + old!.length, text: next! }]
}

/** Code of a new hook that runs as it is and does nothing yet. */
export function newHookCode({ table, moment, on, watch }: NewHook): string {
  const lines = [`table: ${quoted(table)},`, `moment: ${quoted(moment)},`]
  if (!sameList(on, DEFAULT_ON)) lines.push(`on: [${on.map(quoted).join(', ')}],`)
  if (watch.length > 0) lines.push(`watch: [${watch.map(quoted).join(', ')}],`)
  lines.push(SKETCH[moment] ?? SKETCH['before-save']!)
  return `import { defineHook } from 'patient-hook'\n\nexport default defineHook({\n${lines.map((line) => `  ${line}\n`).join('')}})\n`
}

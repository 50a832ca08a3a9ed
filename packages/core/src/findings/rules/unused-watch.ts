import ts from '#typescript'
import { bare, ownField } from '../record-names.js'
import type { HookCode, Fix, Rule } from '../types.js'
import { isAssignment, isCall, onPurpose, walk } from '../syntax.js'
import { initializer } from '../uses.js'

export const unusedWatch: Rule = {
  meta: {
    name: 'unused-watch',
    severity: 'warning',
    title: 'A watched field that the hook does not use',
    why: 'The hook derives its values from other fields: a change of this one wakes it for nothing. Remove it from watch, or use it.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g', 'tare_mass_g'], each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['bay', 'status'], each(row) { row.now.next_test_due = null } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['bay', 'status'], each(row, _, { clock }) { row.now.handling_notes = row.now.bay + ' since ' + clock } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g', 'bay'], each(row) { row.now.net_mass_g = row.now.gross_mass_g } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['bay', 'bay'], each(row) { row.now.alarm = row.now.bay === null ? 'act' : 'none' } }`,
      `{ table: 'lot', moment: 'before-save', on: ['delete'], watch: ['bay'], each(row) { if (row.was.bay === 'Q1') row.refuse(null, 'kept') } }`,
    ],
  },
  look({ hook, say }) {
    const { watch } = hook
    const [first] = watch
    if (!first) return
    watch.forEach(({ text }, index) => {
      const before = watch.findIndex((each) => each.text === text)
      if (before < index) say(watch[index]!.node, `${text} is watched already`, takeOut(hook, index))
    })
    if (!hook.on.includes('create') && !hook.on.includes('update'))
      say(first.node, 'watch does not apply to deletes: the hook runs for each of them')
    const list = initializer(hook.definition, 'watch')!
    const inList = (at: number) => at >= list.getStart() && at < list.getEnd()
    const read = new Set(
      hook.uses.filter((use) => use.kind === 'read' && use.of !== 'other' && !inList(use.start)).map((use) => use.field),
    )
    if (!watch.some(({ text }) => read.has(text)) || !onlyDerives(hook)) return
    watch.forEach(({ text, node }, index) => {
      const set = hook.uses.some((use) => use.kind === 'write' && use.of === 'now' && use.field === text)
      if (read.has(text) || set || onPurpose(hook, node) || !hook.table.fields.some((field) => field.name === text)) return
      say(node, `${text} is watched, but the hook does not use it: its change wakes the hook for nothing`, takeOut(hook, index))
    })
  },
}

function takeOut(hook: HookCode, index: number): Fix {
  const { node } = hook.watch[index]!
  const before = hook.watch[index - 1]?.node.getEnd()
  const next = hook.watch[index + 1]?.node.getStart()
  return {
    title: 'Remove it',
    edits: [{ start: before ?? node.getStart(), end: before === undefined ? (next ?? node.getEnd()) : node.getEnd(), text: '' }],
  }
}

/** Names by which a hook does more with a change than to derive a value: it says that there was one, or when. */
const BEYOND = new Set(['changes', 'clock', 'user', 'was'])

/**
 * Does all that the hook sets follow from the fields it names? Then a field it does not name cannot matter. A constant
 * (set back on change), a message, a refusal or a record given away as a whole may well matter.
 */
function onlyDerives(hook: HookCode): boolean {
  let derives = false
  let beyond = false
  walk(hook.definition, (node) => {
    if (ts.isIdentifier(node)) {
      if (BEYOND.has(node.text)) beyond = true
      const isRecord = hook.names.rows.has(node.text) || hook.names.now.has(node.text)
      if (isRecord && !isTakenApart(node)) beyond = true
    }
    if (ts.isPropertyAccessExpression(node) && node.name.text === 'now' && !isTakenApart(node)) beyond = true
    if (isCall(node, 'refuse', 'send', 'create', 'remove', 'next', 'update')) beyond = true
    if (isCall(node, 'changed') && node.arguments.length === 0) beyond = true
    if (!isAssignment(node) || ownField(node.left, hook.names) === null) return
    const value = bare(node.right)
    if (ts.isLiteralExpression(value) || /^(null|true|false)$/.test(value.getText())) beyond = true
    else derives = true
  })
  return derives && !beyond
}

/** Is only a part of it taken, or is it named only to be bound? */
function isTakenApart(node: ts.Node): boolean {
  let outer = node
  while (bare(outer.parent) === bare(node)) outer = outer.parent
  const { parent } = outer
  if (ts.isPropertyAccessExpression(parent)) return true
  if (ts.isElementAccessExpression(parent))
    return parent.expression === outer && ts.isStringLiteralLike(parent.argumentExpression)
  if (ts.isVariableDeclaration(parent)) return ts.isIdentifier(parent.name) || !hasRest(parent.name)
  if (ts.isBindingElement(parent)) return !parent.dotDotDotToken
  return ts.isParameter(parent) || ts.isPropertyAssignment(parent)
}

const hasRest = (name: ts.BindingName): boolean =>
  ts.isObjectBindingPattern(name) && name.elements.some((each) => each.dotDotDotToken)

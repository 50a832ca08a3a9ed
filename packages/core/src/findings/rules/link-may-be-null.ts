import ts from '#typescript'
import { bare, isEqual, isOwnId, isUnequal } from '../record-names.js'
import type { HookCode, Rule } from '../types.js'
import { areOwnIds, isCall, isLookup, loadedNames, mentions, walk } from '../syntax.js'

export const linkMayBeNull: Rule = {
  meta: {
    name: 'link-may-be-null',
    severity: 'error',
    title: 'Reading through a link without thinking of an empty one',
    why: 'A link may be empty, or its record gone. get(…) then gives undefined, and reading a field of it ends the hook for that row. Write ?. and say what happens without it.',
  },
  examples: {
    pass: [
      `{ table: 'collection', moment: 'before-save', load: ({ rows, store }) => store.rollup('lot', 'collection', rows.map(r => r.id), { count: true }), each(row, lots) { const { count } = lots.get(row.id)!; row.now.label = String(count + lots.get(row.id)!.count) } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['name']), each(row, found) { row.now.bay ??= found.get(row.now.species)?.name ?? null } }`,
    ],
    fail: [
      `{ table: 'collection', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.id), ['label']), each(row, old) { row.now.label ??= old.get(row.id)!.label } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['name']), each(row, found) { row.now.bay ??= found.get(row.now.species)!.name } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['name']), each(row, found) { row.now.bay ??= found.get(row.now.species).name } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['name']), each(row, found) { const { name } = found.get(row.now.species)!; row.now.bay ??= name } }`,
    ],
  },
  look({ hook, say }) {
    const names = loadedNames(hook)
    // children and rollup have an entry for each id that was asked for, also where there is no record.
    const always = lookupsFor(hook).every((lookup) => isCall(lookup, 'children', 'rollup'))
    const isFound = (node: ts.Node): node is ts.CallExpression =>
      ts.isCallExpression(node) &&
      isCall(node, 'get') &&
      mentions(node.expression, names) &&
      !(always && node.arguments[0] && isOwnId(node.arguments[0], hook.names))
    walk(hook.definition, (node) => {
      if (ts.isPropertyAccessExpression(node) && !node.questionDotToken) {
        const call = bare(node.expression)
        if (isFound(call))
          say(node, `${call.getText()} may be undefined, when the link is empty`, {
            title: 'Write ?.',
            edits: [{ start: call.getEnd(), end: node.name.getStart(), text: '?.' }],
          })
      }
      if (!ts.isVariableDeclaration(node) || !node.initializer || ts.isArrayBindingPattern(node.name)) return
      const call = bare(node.initializer)
      if (!isFound(call)) return
      if (ts.isObjectBindingPattern(node.name))
        return say(node.name, `${call.getText()} may be undefined, when the link is empty: take it apart after asking for it`)
      const uses = usesOf(node.name, hook.definition)
      // The caller about it at all has thought of it: what comes of that is for TypeScript to follow.
      if (uses.some((use) => isAsked(use))) return
      const first = uses.find((use) => ts.isPropertyAccessExpression(use.parent))
      if (!first) return
      const accesses = uses.map((use) => use.parent).filter(ts.isPropertyAccessExpression)
      say(first.parent, `${node.name.text} may be undefined, when the link is empty`, {
        title: 'Write ?.',
        edits: [
          { start: call.getEnd(), end: node.initializer.getEnd(), text: '' },
          ...accesses.map((access) => ({ start: access.expression.getEnd(), end: access.name.getStart(), text: '?.' })),
        ],
      })
    })
  },
}

/** Look-ups that ask for the rows themselves by their ids. */
function lookupsFor(hook: HookCode): ts.CallExpression[] {
  const lookups: ts.CallExpression[] = []
  walk(hook.definition, (node) => {
    if (!isLookup(node, 'byId', 'children', 'rollup')) return
    if (areOwnIds(node.arguments[isCall(node, 'byId') ? 1 : 2], hook)) lookups.push(node)
  })
  return lookups
}

/** Where a local name is used, other than where it is declared. */
function usesOf(name: ts.Identifier, within: ts.Node): ts.Identifier[] {
  const links: ts.Identifier[] = []
  walk(within, (node) => {
    if (!ts.isIdentifier(node) || node === name || node.text !== name.text) return
    const { parent } = node
    if (ts.isPropertyAccessExpression(parent) && parent.name === node) return
    if (ts.isPropertyAssignment(parent) && parent.name === node) return
    links.push(node)
  })
  return links
}

/** Is the value tested, or read with ?. ? */
function isAsked(use: ts.Identifier): boolean {
  const { parent } = use
  if (ts.isPropertyAccessExpression(parent) && parent.questionDotToken) return true
  if (ts.isIfStatement(parent) || ts.isConditionalExpression(parent)) return true
  if (ts.isPrefixUnaryExpression(parent) && parent.operator === ts.SyntaxKind.ExclamationToken) return true
  if (!ts.isBinaryExpression(parent)) return false
  const { kind } = parent.operatorToken
  return (
    isEqual(kind) ||
    isUnequal(kind) ||
    kind === ts.SyntaxKind.AmpersandAmpersandToken ||
    kind === ts.SyntaxKind.BarBarToken ||
    kind === ts.SyntaxKind.QuestionQuestionToken
  )
}

import ts from 'typescript'
import type { Rule } from '../types.js'
import { bare, ownField } from '../record-names.js'
import { isAssignment, loadedNames, mentions, onPurpose, partOf, walk } from '../syntax.js'

export const overwritesTyped: Rule = {
  meta: {
    name: 'overwrites-typed',
    severity: 'warning',
    title: 'A copied value that overwrites what a user may have typed',
    why: 'A value copied from a linked record replaces what was typed, and nobody sees it. Fill only when it is empty (??=), or say that it is meant with a comment: // on purpose.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', on: ['create'], load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species ??= found.get(row.now.collection)?.species ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) {\n// on purpose: always the collection's\nrow.now.species = found.get(row.now.collection)?.species ?? null } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { const collection = found.get(row.now.collection); row.now.species = collection?.species ?? null } }`,
    ],
  },
  look({ hook, say }) {
    const each = partOf(hook, 'each')
    if (hook.moment !== 'before-save' || !each) return
    const names = loadedNames(hook)
    const guarded = new Set(hook.uses.filter((use) => use.kind === 'write' && use.whenEmpty).map((use) => use.start))
    walk(each, (node) => {
      if (!isAssignment(node)) return
      const field = ownField(node.left, hook.names)
      // A bare copy: one field of the found record, with ?? for none. A formula is a derived value, which is meant.
      if (
        field === null ||
        guarded.has(bare(node.left).getStart()) ||
        !mentions(node.right, names) ||
        !isCopy(node.right) ||
        onPurpose(hook, node)
      )
        return
      say(node, `this overwrites a ${field} that was typed: fill it only when it is empty, or say // on purpose`, {
        title: 'Fill only when empty',
        edits: [{ start: node.operatorToken.getStart(), end: node.operatorToken.getEnd(), text: '??=' }],
      })
    })
  },
}

function isCopy(expression: ts.Expression): boolean {
  const node = bare(expression)
  if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken) return isCopy(node.left)
  // `from ? from.species : null` copies as well.
  if (ts.isConditionalExpression(node)) return isCopy(node.whenTrue) || isCopy(node.whenFalse)
  return ts.isPropertyAccessExpression(node)
}

import ts from '#typescript'
import { nodesOf, removed, replaced, type HookSource, type Mutation } from '../mutation.js'

/** What a hook asks for is asked for less exactly: a value, a condition of the records, or the question before it is forgotten. */

const EFFECTS = ['update', 'create', 'remove', 'send']

function effectName(node: ts.Node): string | null {
  if (!ts.isCallExpression(node) || node.arguments.length === 0) return null
  const called = ts.isPropertyAccessExpression(node.expression) ? node.expression.name : node.expression
  return ts.isIdentifier(called) && EFFECTS.includes(called.text) ? called.text : null
}

/** Each property of an argument, where it has more than one: without any, the effect itself would be another. */
function* partsOf(hook: HookSource, argument: ts.Expression | undefined) {
  if (!argument || !ts.isObjectLiteralExpression(argument) || argument.properties.length < 2) return
  for (const part of argument.properties) yield removed(hook, part)
}

export const droppedEffectValue: Mutation = {
  kind: 'dropped-effect-value',
  says: 'a value of an effect is forgotten',
  examples: [
    {
      code: `{ table: 'lot', moment: 'after-save', each(row, _, { create }) { create('move', { from: row.id, to: 2 }) } }`,
      changes: ['from: row.id, → ', 'to: 2 → '],
    },
    {
      code: `{ table: 'lot', moment: 'after-save', each(row, _, { send }) { send('desk', { lot: row.id, bay: row.now.bay }) } }`,
      changes: ['lot: row.id, → ', 'bay: row.now.bay → '],
    },
  ],
  *changes(hook) {
    for (const node of nodesOf(hook.literal)) {
      const name = effectName(node)
      if (name !== null && name !== 'remove') yield* partsOf(hook, (node as ts.CallExpression).arguments.at(-1))
    }
  },
}

export const droppedEffectCondition: Mutation = {
  kind: 'dropped-effect-condition',
  says: 'a condition of an effect is forgotten',
  examples: [
    {
      code: `{ table: 'lot', moment: 'after-save', each(row, _, { remove }) { remove('move', { from: row.id, to: 2 }) } }`,
      changes: ['from: row.id, → ', 'to: 2 → '],
    },
    {
      code: `{ table: 'lot', moment: 'after-save', each(row, _, { update }) { if (row.now.net) update('lot', 2, { bay: 'a' }) } }`,
      changes: ['row.now.net → true'],
    },
  ],
  *changes(hook) {
    for (const node of nodesOf(hook.literal)) {
      const name = effectName(node)
      if (name === 'update' || name === 'remove') yield* partsOf(hook, (node as ts.CallExpression).arguments[1])
      if (ts.isIfStatement(node) && [...nodesOf(node.thenStatement)].some(effectName))
        yield replaced(hook, node.expression, 'true')
    }
  },
}

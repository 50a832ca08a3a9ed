import ts from '#typescript'
import { nodesOf, replaced, type Change, type HookSource, type Mutation } from '../mutation.js'

/** Another total of the same field: where it is asked for, and wherever the code reads it. */
const OTHERS: Readonly<Record<string, string>> = { min: 'max', max: 'min', sum: 'max' }

export const otherRollup: Mutation = {
  kind: 'other-rollup',
  says: 'another total: the largest for the smallest, the smallest for the largest, the largest for the sum',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.rollup('move', 'from', rows.map(row => row.id), { min: ['to'] }),
        each(row, totals) { row.now.net = totals.get(row.id).min.to } }`,
      changes: ['min → max'],
    },
  ],
  *changes(hook) {
    const asked = new Set<string>()
    for (const node of nodesOf(hook.literal)) {
      if (!ts.isCallExpression(node) || !ts.isPropertyAccessExpression(node.expression)) continue
      const totals = node.expression.name.text === 'rollup' ? node.arguments.at(-1) : undefined
      if (!totals || !ts.isObjectLiteralExpression(totals)) continue
      for (const { name } of totals.properties) if (name && ts.isIdentifier(name)) asked.add(name.text)
    }
    for (const from of asked) {
      const to = OTHERS[from]
      if (to === undefined || asked.has(to)) continue
      const [first, ...also] = [...namesOf(hook, from, to)]
      if (first) yield { ...first, also }
    }
  },
}

/** Wherever it is a name: of what is asked for, of what is read, of what is taken apart. */
function* namesOf(hook: HookSource, from: string, to: string): Generator<Change> {
  for (const node of nodesOf(hook.literal)) {
    if (ts.isPropertyAccessExpression(node) && node.name.text === from && !isMath(node)) yield replaced(hook, node.name, to)
    if (ts.isPropertyAssignment(node) && ts.isIdentifier(node.name) && node.name.text === from && isTotals(node))
      yield replaced(hook, node.name, to)
    if (ts.isBindingElement(node) && !node.propertyName && ts.isIdentifier(node.name) && node.name.text === from)
      yield replaced(hook, node.name, `${to}: ${from}`)
  }
}

const isMath = ({ expression }: ts.PropertyAccessExpression): boolean => ts.isIdentifier(expression) && expression.text === 'Math'

const isTotals = ({ parent }: ts.PropertyAssignment): boolean =>
  ts.isCallExpression(parent.parent) &&
  ts.isPropertyAccessExpression(parent.parent.expression) &&
  parent.parent.expression.name.text === 'rollup'

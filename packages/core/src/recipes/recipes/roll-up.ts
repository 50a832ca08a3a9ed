import { isNumber } from '../accepts.js'
import { answer, fieldOf, ownField, tableAt } from '../answers.js'
import { hookFile } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { sampleNumbers, suits } from '../samples.js'
import { TestCode } from '../test-code.js'

/** Digits after the point of a step such as 0.01. */
const digitsOf = (step: number): number => String(step).split('.')[1]?.length ?? 0

export const rollUp: Recipe = {
  name: 'roll-up',
  title: 'Roll up to parent',
  description: 'Keeps a count or a sum of the records that link to a parent in a field of the parent.',
  inputs: [
    { name: 'link', label: 'Link to the parent', kind: 'link' },
    { name: 'to', label: 'Field of the parent', kind: 'parent-field', of: 'link', accepts: isNumber },
    { name: 'sum', label: 'Field to add up (empty: count)', kind: 'field', optional: true, accepts: isNumber },
  ],
  write(request) {
    const { table } = request
    const parent = tableAt(request, 'link')!
    const link = ownField(request, 'link')!
    const to = fieldOf(parent, answer(request, 'to'))!
    const sum = ownField(request, 'sum')
    const digits = to.type === 'integer' ? 0 : to.multipleOf === null ? null : digitsOf(to.multipleOf)
    const total = sum ? `sum.${sum.name}` : 'count'
    const exact = sum?.type === 'number' && digits !== null ? `Number(${total}.toFixed(${digits}))` : total
    const what = sum ? `{ sum: ['${sum.name}'] }` : '{ count: true }'
    const says = sum ? `The sum of ${sum.label}` : `The number of ${table.label} records`
    const hook = hookFile(`${says}, in ${to.label} of their ${link.label}.`, [
      `table: '${table.name}',`,
      `moment: 'after-save',`,
      `on: ['create', 'update', 'delete'],`,
      `finish({ rows, store, update }) {`,
      `  const parents = new Set(rows.flatMap((row) => [row.now?.${link.name}, row.was?.${link.name}]))`,
      `  for (const [id, { ${sum ? 'sum' : 'count'} }] of store.rollup('${table.name}', '${link.name}', parents, ${what}))`,
      `    update('${parent.name}', id, { ${to.name}: ${exact} })`,
      `},`,
    ])
    // The parent has to take each number and their sum.
    const numbers = sum ? sampleNumbers(sum).filter((each) => each !== 0 && suits(to, each)) : []
    const [first, second] = [numbers[0] ?? 1, numbers[1] ?? numbers[0] ?? 1]
    const value = (n: number): Record<string, string> => (sum ? { [sum.name]: String(n) } : {})
    const both = sum ? Number((first + second).toPrecision(12)) : 2
    const test = new TestCode(request).record('parent', parent.name)
    const one = test.values(table.name, { [link.name]: 'parent.id', ...value(first) })
    test
      .line(`save('${table.name}', ${one})`)
      .record('two', table.name, { [link.name]: 'parent.id', ...value(second) })
      .line(`expect(get('${parent.name}', parent.id)?.${to.name}).toBe(${both})`)
      .line(`remove('${table.name}', two.id)`)
      .line(`expect(get('${parent.name}', parent.id)?.${to.name}).toBe(${sum ? first : 1})`)
    return { hook, test: test.file(`${to.label} follows the records that link to it`, ['get', 'remove', 'save']) }
  },
}

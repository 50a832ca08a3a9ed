import { isNumber } from '../accepts.js'
import { answer, fieldOf, ownField, tableAt } from '../answers.js'
import { hookFile } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { sampleNumbers } from '../samples.js'
import { TestCode } from '../test-code.js'

export const checkDocument: Recipe = {
  name: 'check-document',
  title: 'Check the whole document',
  description: 'Refuses a header and its lines together when the lines add up to more than the header allows.',
  inputs: [
    { name: 'limit', label: 'Limit on the header', kind: 'field', accepts: isNumber },
    { name: 'children', label: 'Lines', kind: 'children' },
    { name: 'sum', label: 'Field of the lines to add up', kind: 'child-field', of: 'children', accepts: isNumber },
  ],
  write(request) {
    const { table } = request
    const limit = ownField(request, 'limit')!
    const child = tableAt(request, 'children')!
    const link = answer(request, 'children').split('.')[1]!
    const sum = fieldOf(child, answer(request, 'sum'))!
    const hook = hookFile(`${sum.label} of all lines together is at most ${limit.label}; else the whole document is refused.`, [
      `table: '${table.name}',`,
      `moment: 'before-commit',`,
      `touchedBy: ['${child.name}.${link}'],`,
      `load: ({ rows, store }) =>`,
      `  store.rollup(`,
      `    '${child.name}',`,
      `    '${link}',`,
      `    rows.map((row) => row.id),`,
      `    { sum: ['${sum.name}'] },`,
      `  ),`,
      `each(row, totals) {`,
      `  const total = totals.get(row.id)?.sum.${sum.name} ?? 0`,
      `  const limit = row.now.${limit.name}`,
      `  if (limit !== null && total > limit) row.refuse('${limit.name}', \`the lines add up to \${total}, more than \${limit}\`)`,
      `},`,
    ])
    const amounts = sampleNumbers(sum)
    const most = sampleNumbers(limit).find((each) => amounts.some((a) => a <= each) && amounts.some((a) => a > each))
    const [small, large] = [amounts.find((each) => each <= (most ?? 1)), amounts.find((each) => each > (most ?? 1))]
    const test = new TestCode(request)
      .record('header', table.name, { [limit.name]: String(most ?? 1) })
      .record('line', child.name, { [link]: 'header.id', [sum.name]: String(small ?? 1) })
    test
      .line(`const refused = refusal(() => save('${child.name}', { id: line.id, ${sum.name}: ${large ?? 2} }))`)
      .line(`expect(refused.field).toBe('${limit.name}')`)
      .line(`expect(get('${child.name}', line.id)?.${sum.name}).toBe(${small ?? 1})`)
    return { hook, test: test.file(`lines above ${limit.label} are refused`, ['get', 'refusal', 'save']) }
  },
}

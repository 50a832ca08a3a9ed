import { answer, ownField } from '../answers.js'
import { hookFile, literal } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { TestCode } from '../test-code.js'

export const notifyOnChange: Recipe = {
  name: 'notify-on-change',
  title: 'Notify on change',
  description: 'Sends a message with the old and the new value when a field changes.',
  inputs: [
    { name: 'field', label: 'Field', kind: 'field' },
    { name: 'channel', label: 'Channel of the message', kind: 'text' },
  ],
  write(request) {
    const { table } = request
    const field = ownField(request, 'field')!
    const channel = literal(answer(request, 'channel'))
    const hook = hookFile(`When ${field.label} changes, a message reports the old and the new value.`, [
      `table: '${table.name}',`,
      `moment: 'after-save',`,
      `on: ['update'],`,
      `watch: ['${field.name}'],`,
      `each(row, _, { send, user }) {`,
      `  send(${channel}, { id: row.id, from: row.was.${field.name}, to: row.now.${field.name}, by: user })`,
      `},`,
    ])
    const test = new TestCode(request)
    const [before, after] = [test.value(field, 0), test.value(field, 1)]
    test
      .record('changed', table.name, { [field.name]: before })
      .line(`expect(sent(${channel})).toHaveLength(0)`)
      .line(`save('${table.name}', { id: changed.id, ${field.name}: ${after} })`)
      .line(`save('${table.name}', { id: changed.id, ${field.name}: ${after} })`)
      .line(`expect(sent(${channel})).toHaveLength(1)`)
      .line(`expect(sent(${channel})[0]).toMatchObject({ id: changed.id, from: ${before}, to: ${after} })`)
    return { hook, test: test.file(`a change of ${field.label} sends one message`, ['save', 'sent']) }
  },
}

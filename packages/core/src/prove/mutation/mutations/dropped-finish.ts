import ts from '#typescript'
import { property } from '../../../findings/uses.js'
import { isFunction } from '../../../findings/record-names.js'
import { removed, replaced, type Mutation } from '../mutation.js'

export const droppedFinish: Mutation = {
  kind: 'dropped-finish',
  says: 'what is done for the whole batch in the end is forgotten',
  examples: [
    {
      code: `{ table: 'lot', moment: 'after-save', each() {}, finish({ send }) { send('desk', {}) } }`,
      changes: [`finish({ send }) { send('desk', {}) } → `],
    },
    {
      code: `{ table: 'lot', moment: 'after-save', finish({ send }) { send('desk', {}) } }`,
      changes: [`{ send('desk', {}) } → {}`],
    },
  ],
  *changes(hook) {
    const finish = property(hook.literal, 'finish')
    if (!finish) return
    if (property(hook.literal, 'each')) yield removed(hook, finish)
    else {
      const work = ts.isPropertyAssignment(finish) ? finish.initializer : finish
      if (isFunction(work) && work.body) yield replaced(hook, work.body, '{}')
    }
  },
}

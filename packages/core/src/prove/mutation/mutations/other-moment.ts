import ts from '#typescript'
import { initializer } from '../../../findings/uses.js'
import { replaced, type Mutation } from '../mutation.js'

export const otherMoment: Mutation = {
  kind: 'other-moment',
  says: 'before-save for after-save, and the other way round',
  examples: [
    { code: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net = 1 } }`, changes: [`'before-save' → 'after-save'`] },
  ],
  *changes(hook) {
    const moment = initializer(hook.literal, 'moment')
    if (!moment || !ts.isStringLiteralLike(moment)) return
    const other = { 'before-save': 'after-save', 'after-save': 'before-save' }[moment.text]
    if (other) yield replaced(hook, moment, `'${other}'`)
  },
}

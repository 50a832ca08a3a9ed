import ts from '#typescript'
import { initializer, property } from '../../../findings/uses.js'
import { removed, type Mutation } from '../mutation.js'

/** Parts of a definition that are forgotten as a whole, each its own kind. */
const dropped = (part: string, kind: string, says: string, code: string, change: string): Mutation => ({
  kind,
  says,
  examples: [{ code, changes: [change] }],
  *changes(hook) {
    const found = property(hook.literal, part)
    if (found) yield removed(hook, found)
  },
})

export const droppedGuard = dropped(
  'only',
  'dropped-guard',
  'the guard is forgotten',
  `{ table: 'lot', moment: 'before-save', only: row => row.now.gross, each(row) { row.now.net = 1 } }`,
  'only: row => row.now.gross, → ',
)
export const droppedWatch = dropped(
  'watch',
  'dropped-watch',
  'the watched fields are forgotten: every change wakes the hook',
  `{ table: 'lot', moment: 'before-save', watch: ['gross'], each(row) { row.now.net = 1 } }`,
  `watch: ['gross'], → `,
)
export const droppedAfter = dropped(
  'after',
  'dropped-after',
  'what must run before is forgotten',
  `{ table: 'lot', moment: 'before-save', after: ['x'], each(row) { row.now.net = 1 } }`,
  `after: ['x'], → `,
)

/** One of a list is forgotten: a watched field, an event. */
const oneLess = (part: string, kind: string, says: string, code: string, changes: string[]): Mutation => ({
  kind,
  says,
  examples: [{ code, changes }],
  *changes(hook) {
    const list = initializer(hook.literal, part)
    if (!list || !ts.isArrayLiteralExpression(list) || list.elements.length < 2) return
    for (const element of list.elements)
      yield {
        start: list.getStart(hook.source),
        end: list.getEnd(),
        text: `[${list.elements
          .filter((each) => each !== element)
          .map((each) => each.getText(hook.source))
          .join(', ')}]`,
      }
  },
})

export const watchedFieldLess = oneLess(
  'watch',
  'watched-field-less',
  'one watched field is forgotten',
  `{ table: 'lot', moment: 'before-save', watch: ['gross', 'net'], each(row) { row.now.bay = 'a' } }`,
  [`['gross', 'net'] → ['net']`, `['gross', 'net'] → ['gross']`],
)
export const eventLess = oneLess(
  'on',
  'event-less',
  'one event is forgotten',
  `{ table: 'lot', moment: 'before-save', on: ['create', 'update'], each(row) { row.now.bay = 'a' } }`,
  [`['create', 'update'] → ['update']`, `['create', 'update'] → ['create']`],
)

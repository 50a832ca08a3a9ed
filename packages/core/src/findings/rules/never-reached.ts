import ts from '#typescript'
import { walkKnowing, NO_FACTS, startFacts } from '../facts.js'
import { isFunction, ownField } from '../record-names.js'
import type { Rule } from '../types.js'
import { isAssignment, isCall, onPurpose, partOf, walk } from '../syntax.js'

export const neverReached: Rule = {
  meta: {
    name: 'never-reached',
    severity: 'warning',
    title: 'A refuse, a value or an effect that is never reached',
    why: 'By the time the code comes there, its condition cannot hold any more: it does nothing, so it is probably not what was meant.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', watch: ['bay'], each(row) { if (row.now.bay === null) { row.refuse('bay', 'needed'); return } row.now.alarm = 'none' } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.bay === null) row.now.bay = row.now.status; if (row.now.bay !== null) row.now.alarm = 'none' } }`,
      `{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { if (row.was === null) return; row.now.alarm = 'none' } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.bay === null) return\nif (row.now.bay === null) row.refuse('bay', 'needed') } }`,
      `{ table: 'lot', moment: 'before-save', only: row => row.now.status === 'stored', each(row) { if (row.now.status === 'drying') row.refuse('status', 'too early') } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { return\nrow.refuse('bay', 'no') } }`,
      `{ table: 'lot', moment: 'before-save', on: ['create'], each(row) { if (row.was !== null && row.was.bay === 'Q1') row.refuse('bay', 'it stays') } }`,
    ],
  },
  look({ hook, say }) {
    /** A return that is never reached is caution; work that is never reached is not. */
    const works = (branch: ts.Node): boolean => {
      let reached = false
      walk(branch, (node) => {
        if (isCall(node, 'refuse', 'update', 'create', 'remove', 'send')) reached = true
        if (isAssignment(node) && ownField(node.left, hook.names) !== null) reached = true
      })
      return reached
    }
    for (const part of ['each', 'finish']) {
      const fn = partOf(hook, part)
      if (!fn || !isFunction(fn) || !fn.body) continue
      const start = part === 'each' ? startFacts(hook, fn) : NO_FACTS
      walkKnowing(fn.body, start, hook.names, {
        unreached: (branch, condition, outcome) => {
          if (works(branch) && !onPurpose(hook, branch))
            say(branch, `this is never reached: ${condition.getText()} is always ${outcome} here`)
        },
      })
    }
    walk(hook.definition, (node) => {
      if (!ts.isBlock(node)) return
      const end = node.statements.findIndex((each) => ts.isReturnStatement(each) || ts.isThrowStatement(each))
      const after = end >= 0 ? node.statements.slice(end + 1).find((each) => !ts.isFunctionDeclaration(each)) : undefined
      if (after) say(after, 'this is never reached: the function has returned')
    })
  },
}

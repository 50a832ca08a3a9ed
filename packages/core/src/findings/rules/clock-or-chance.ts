import ts from '#typescript'
import { importedCode } from '../imported-code.js'
import type { Rule } from '../types.js'
import { parameterOf, partOf, walk } from '../syntax.js'

export const clockOrChance: Rule = {
  meta: {
    name: 'clock-or-chance',
    severity: 'error',
    title: 'The time or chance taken from elsewhere than the context',
    why: 'A hook that gives other values at every run cannot be rehearsed or tested, and the sandbox has neither. clock is the time of the save; next(sequence) numbers records.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', each(row, _, { clock }) { row.now.next_test_due = clock.slice(0, 10) } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.next_test_due = new Date('2026-01-01').toISOString().slice(0, 10) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.next_test_due = new Date().toISOString().slice(0, 10) } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.seed_estimate = Math.floor(Math.random() * 9) } }`,
      `{ table: 'lot', moment: 'before-save', each(row, _, { clock }) { row.now.seed_estimate = Date.now() } }`,
    ],
  },
  look({ hook, read, say }) {
    const context = parameterOf(partOf(hook, 'each'), 2)
    const hasClock =
      context !== null && ts.isObjectBindingPattern(context) && context.elements.some((each) => each.name.getText() === 'clock')
    walk(hook.source, (node) => {
      const source = sourceOf(node)
      if (!source) return
      const fix = hasClock && source.instead !== null
      say(
        node,
        said(source),
        fix
          ? {
              title: `Write ${source.instead}`,
              edits: [{ start: node.getStart(), end: node.getEnd(), text: source.instead! }],
            }
          : null,
      )
    })
    // In a module of the plugin it is as wrong; the hook is reported at the name that it imports.
    for (const { file, node: code, at } of importedCode(hook.source, hook.file, read))
      walk(code, (node) => {
        const source = sourceOf(node)
        if (!source) return
        const { line } = code.getSourceFile().getLineAndCharacterOfPosition(node.getStart())
        say(at, `${file}, line ${line + 1}: ${said(source)}`)
      })
  },
}

interface Source {
  text: string
  isClock: boolean
  /** What to write where the context's clock is at hand. */
  instead: string | null
}

const said = ({ text, isClock }: Source): string =>
  isClock
    ? `${text} is the machine’s clock: take clock from the third argument`
    : `${text} is chance: a hook gives the same values at every run`

function sourceOf(node: ts.Node): Source | null {
  if (ts.isNewExpression(node) && node.expression.getText() === 'Date' && (node.arguments?.length ?? 0) === 0)
    return { text: 'new Date()', isClock: true, instead: 'new Date(clock)' }
  if (!ts.isCallExpression(node)) return null
  const text = node.expression.getText()
  if (text === 'Date') return { text: 'Date()', isClock: true, instead: 'clock' }
  if (text === 'Date.now' || text === 'performance.now') return { text: `${text}()`, isClock: true, instead: 'Date.parse(clock)' }
  return text === 'Math.random' || text.startsWith('crypto.') ? { text: `${text}()`, isClock: false, instead: null } : null
}

import ts from '#typescript'
import { treeOf } from '../../syntax-tree.js'

/** Where code names a hook: in `after` of other hooks; in options, `ran(…)` and what is expected of a `hook` in unit tests. */

export interface NameInCode {
  start: number
  end: number
  line: number
  /** May is in a list from which it can be removed. */
  listed: boolean
}

const LISTS = new Set(['after', 'hooks'])

/** @param path ends in `.test.ts` for a unit test */
export function namesOfHook(path: string, text: string, hook: string): NameInCode[] {
  if (!text.includes(hook)) return []
  const source = treeOf(path, text)
  const names: NameInCode[] = []
  const look = (node: ts.Node): void => {
    if (ts.isStringLiteralLike(node) && node.text === hook) {
      const listed = isListed(node)
      if (listed || isAsked(node) || (path.endsWith('.test.ts') && isExpected(node)))
        names.push({
          start: node.getStart(source),
          end: node.end,
          line: source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1,
          listed,
        })
    }
    ts.forEachChild(node, look)
  }
  look(source)
  return names
}

/** `after: ['x']`, `{ hooks: ['x'] }`. */
function isListed({ parent }: ts.StringLiteralLike): boolean {
  const property = ts.isArrayLiteralExpression(parent) ? parent.parent : null
  return property !== null && ts.isPropertyAssignment(property) && ts.isIdentifier(property.name) && LISTS.has(property.name.text)
}

/** `ran('x')` of a test. */
const isAsked = ({ parent }: ts.StringLiteralLike): boolean =>
  ts.isCallExpression(parent) && ts.isIdentifier(parent.expression) && parent.expression.text === 'ran'

/** `{ hook: 'x' }`, `refused.hook === 'x'`, `expect(refused.hook).toBe('x')`: what refusals, verdicts and logs say of who it was. */
function isExpected(node: ts.StringLiteralLike): boolean {
  const { parent } = node
  if (ts.isPropertyAssignment(parent)) return parent.initializer === node && nameOf(parent.name) === 'hook'
  if (ts.isBinaryExpression(parent)) return isOfHook(parent.left === node ? parent.right : parent.left)
  if (!ts.isCallExpression(parent) || !ts.isPropertyAccessExpression(parent.expression)) return false
  let of: ts.Expression = parent.expression.expression
  // expect(…).not.toBe('x')
  while (ts.isPropertyAccessExpression(of)) of = of.expression
  if (!ts.isCallExpression(of) || !ts.isIdentifier(of.expression) || of.expression.text !== 'expect') return false
  const [value] = of.arguments
  return value !== undefined && isOfHook(value)
}

const nameOf = (name: ts.PropertyName): string | null => (ts.isIdentifier(name) || ts.isStringLiteral(name) ? name.text : null)

function isOfHook(node: ts.Expression): boolean {
  if (ts.isIdentifier(node)) return node.text === 'hook'
  return ts.isPropertyAccessExpression(node) && node.name.text === 'hook'
}

/** @returns the text with the hook's new name wherever it is named */
export function renamedIn(path: string, text: string, hook: string, name: string): string {
  return namesOfHook(path, text, hook)
    .reverse()
    .reduce((done, { start, end }) => `${done.slice(0, start + 1)}${name}${done.slice(end - 1)}`, text)
}

/** @returns the text with the hook removed from lists, a list that was only of it with its property */
export function takenOutOf(path: string, text: string, hook: string): string {
  const source = treeOf(path, text)
  const cuts: { start: number; end: number }[] = []
  const look = (node: ts.Node): void => {
    if (ts.isStringLiteralLike(node) && node.text === hook && isListed(node)) {
      const list = node.parent as ts.ArrayLiteralExpression
      cuts.push(list.elements.length === 1 ? within(list.parent as ts.PropertyAssignment, source) : within(node, source))
    }
    ts.forEachChild(node, look)
  }
  look(source)
  return cuts.reverse().reduce((done, { start, end }) => done.slice(0, start) + done.slice(end), text)
}

/** With the comma and the blanks that belong to it: those after it, or before it where it is the last. */
function within(node: ts.Node, source: ts.SourceFile): { start: number; end: number } {
  const { text } = source
  const [start, end] = [node.getFullStart(), node.end]
  const comma = /^\s*,/.exec(text.slice(end))
  if (comma) {
    const first = /^\s*/.exec(text.slice(start))![0].length
    const blanks = /^[ \t]*\n?/.exec(text.slice(end + comma[0].length))![0]
    // A whole line goes with its end; within a line the blank after the comma goes.
    return blanks.endsWith('\n')
      ? { start, end: end + comma[0].length }
      : { start: start + first, end: end + comma[0].length + blanks.length }
  }
  const before = /,\s*$/.exec(text.slice(0, start))
  return { start: before ? start - before[0].length : start, end }
}

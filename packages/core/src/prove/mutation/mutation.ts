import ts from '#typescript'
import type { Project, Table } from '../../model/types.js'

/** A kind of mistake that people make in hooks. A new kind is a file like the others, added to mutations/index.ts. */
export interface Mutation {
  kind: string
  /** What is done, for people. */
  says: string
  /** A hook's code, and each piece of it that the kind changes, as `from → to`; they are its tests. */
  examples: readonly { code: string; changes: readonly string[] }[]
  changes(hook: HookSource): Iterable<Change>
}

/** A hook's file, taken apart. */
export interface HookSource {
  source: ts.SourceFile
  /** The object given to defineHook. */
  literal: ts.ObjectLiteralExpression
  table: Table
  project: Project
}

export interface Change {
  /** Offsets in the text, from 0. */
  start: number
  end: number
  text: string
  /** What changes with it elsewhere, behind it in the text or before it. */
  also?: readonly Change[]
}

/** Every node below, in the order of the text. */
export function* nodesOf(node: ts.Node): Generator<ts.Node> {
  yield node
  const children: ts.Node[] = []
  ts.forEachChild(node, (child) => void children.push(child))
  for (const child of children) yield* nodesOf(child)
}

export const replaced = ({ source }: HookSource, node: ts.Node, text: string): Change => ({
  start: node.getStart(source),
  end: node.getEnd(),
  text,
})

/** A part of the definition with its comma. */
export function removed({ source }: HookSource, node: ts.Node): Change {
  const rest = source.text.slice(node.getEnd())
  const comma = /^\s*,/.exec(rest)
  return { start: node.getStart(source), end: node.getEnd() + (comma ? comma[0].length : 0), text: '' }
}

/** `row.now` or `row.was`, whatever the row is called, with the name of the field that is read of it; null for other code. */
export function fieldOf(node: ts.Node): { node: ts.PropertyAccessExpression; side: 'now' | 'was'; field: string } | null {
  if (!ts.isPropertyAccessExpression(node) || !ts.isIdentifier(node.name)) return null
  const record = node.expression
  if (!ts.isPropertyAccessExpression(record)) return null
  const side = record.name.text
  return side === 'now' || side === 'was' ? { node, side, field: node.name.text } : null
}

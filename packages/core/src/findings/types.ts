import type ts from '#typescript'
import type { Table } from '../model/types.js'
import type { RecordNames } from './record-names.js'
import type { HookUses } from './uses.js'

/** What static analysis says of a hook. */
export interface Finding {
  rule: string
  /** A hint is not a fault: what could be said better. */
  severity: 'error' | 'warning' | 'hint'
  message: string
  file: string
  hook: string
  /** From 1. */
  line: number
  column: number
  /** Offsets in the text, from 0. */
  start: number
  end: number
  fix: Fix | null
}

/** A change of the text that fixes the finding. */
export interface Fix {
  title: string
  edits: readonly { start: number; end: number; text: string }[]
}

/** A hook as the rules see it. */
export interface HookCode {
  name: string
  file: string
  text: string
  source: ts.SourceFile
  /** The literal given to defineHook. */
  definition: ts.ObjectLiteralExpression
  table: Table
  moment: string
  on: readonly string[]
  watch: readonly { text: string; node: ts.StringLiteralLike }[]
  after: readonly string[]
  ripples: string
  uses: HookUses['uses']
  names: RecordNames
}

export interface RuleContext {
  hook: HookCode
  /** All hooks of the project, this one among them. */
  all: readonly HookCode[]
  tables: ReadonlyMap<string, Table>
  /** The text of a file of the project, where the project's files are known. */
  read(file: string): string | undefined
  /** @param at a node, or offsets in the text */
  say(at: ts.Node | { start: number; end: number }, message: string, fix?: Fix | null): void
}

export interface Rule {
  meta: {
    name: string
    severity: Finding['severity']
    /** What it finds, in one line. */
    title: string
    /** Why that is a trap, and what to do. */
    why: string
  }
  /** Hooks that pass and hooks that fail, on the tables of test/findings: its tests and its docs. */
  examples: { pass: readonly string[]; fail: readonly string[] }
  look(context: RuleContext): void
}

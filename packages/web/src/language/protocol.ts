import type { Table } from '@patient-hook/contract'
import type { Finding } from '@patient-hook/core/findings'
import type {
  Definition,
  DefinitionPart,
  Diagnostic,
  ExportedFunction,
  NewHook,
  Renaming,
  Signature,
  Target,
  TextEdit,
} from '@patient-hook/core/language'

import type { CodeMatch, CodeQuery } from './search-code'

/** What the page asks of the language worker. */
export interface LanguageModel {
  declarations: string
  tables: readonly Table[]
}
export interface LanguageChange {
  /** These are not all files, but those that are others than before. */
  partial: boolean
  /** As they are kept; null for one that went. */
  files: Record<string, string | null>
  /** All texts that are not kept yet. */
  drafts: Record<string, string>
  /** Null where it is as before. */
  model: LanguageModel | null
}
export interface Report {
  diagnostics: Diagnostic[]
  findings: Finding[]
  outline: Outline | null
}
/** A hook as its code defines it, with the fields of its table that it reads and writes. */
export interface Outline {
  definition: Definition
  reads: string[]
  writes: string[]
}
export interface Completion {
  name: string
  kind: string
  /** The field's label and help, or what TypeScript says it is. */
  detail: string
}
export interface LanguageMethods {
  follow(change: LanguageChange): void
  write(path: string, text: string): void
  look(path: string): Promise<Report>
  /** In a file that has come to this text, which is kept as by `write`. */
  complete(path: string, text: string, offset: number): Completion[]
  outline(path: string): Outline | null
  /** Paths of the code files below a folder, in order. */
  paths(folder: string): string[]
  search(query: CodeQuery): CodeMatch[]
  /** The texts that a replacement changes. */
  replace(query: CodeQuery, replacement: string): Record<string, string>
  /** Of these modules. */
  functions(paths: string[]): ExportedFunction[]
  newHook(asked: NewHook): string
  changeDefinition(path: string, part: DefinitionPart, value: string | string[]): TextEdit[]
  goTo(path: string, offset: number): Target | null
  rename(path: string, offset: number, name: string): Renaming
  signature(path: string, offset: number): Signature | null
  describe(path: string, offset: number): { start: number; end: number; text: string; doc: string } | null
}

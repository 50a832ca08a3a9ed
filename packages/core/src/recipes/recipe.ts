import type { Field, Table } from '../model/types.js'

/** A recipe writes a hook for a common need, and the unit test that proves it. */

/** What a recipe may refer to: the tables and sequences of a project. */
export interface RecipeModel {
  tables: readonly Table[]
  /** Names of sequences. */
  sequences: readonly string[]
}

/**
 * What an input takes:
 * - `field`, `fields`: fields of the table; `link`: a link field of the table
 * - `children`: a link of another table that points to this one, as `table.link`
 * - `parent-field`, `child-field`: a field of the table that a `link` or `children` input leads to
 * - `sequence`: the name of a sequence; `value`: a value of the field that another input names; `text`: any text
 */
export type InputKind = 'field' | 'fields' | 'link' | 'children' | 'parent-field' | 'child-field' | 'sequence' | 'value' | 'text'

export interface RecipeInput {
  name: string
  label: string
  kind: InputKind
  /** For `parent-field`, `child-field` and `value`: the input that says where the choices come from. */
  of?: string
  /** The choice may be left empty. */
  optional?: boolean
  /** Is this field a choice, given the answers to the inputs before this one? */
  accepts?: (field: Field, context: RecipeContext) => boolean
}

/** By the name of the input: one choice, or several for `fields`. */
export type Answers = Readonly<Record<string, string | readonly string[]>>

/** What has been chosen so far. */
export interface RecipeContext {
  model: RecipeModel
  /** The table whose saves run the hook. */
  table: Table
  answers: Answers
}

export interface RecipeRequest extends RecipeContext {
  /** Name of the hook. */
  hook: string
}

export interface Recipe {
  /** On the command line, such as `copy-from-parent`. */
  name: string
  title: string
  /** One sentence. */
  description: string
  inputs: readonly RecipeInput[]
  /** Code of the hook and of its test file. */
  write: (request: RecipeRequest) => { hook: string; test: string }
}

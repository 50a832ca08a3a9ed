import { numberIn } from '../model/decimals.js'
import type { Field, Table } from '../model/types.js'
import { suits } from './samples.js'
import type { Recipe, RecipeContext, RecipeInput } from './recipe.js'

/** What can be chosen for each input of a recipe, and whether an answer will do. */

export interface Choice {
  value: string
  title: string
}

export const fieldOf = (table: Table | undefined, name: string): Field | undefined =>
  table?.fields.find((field) => field.name === name)

/** The answer to an input that takes one choice; empty where there is none yet. */
export const answer = ({ answers }: RecipeContext, name: string): string => {
  const [given = ''] = [answers[name] ?? []].flat()
  return given
}

/** The fields that a `fields` input was answered with. */
export const answersTo = ({ answers }: RecipeContext, name: string): string[] => [answers[name] ?? []].flat()

/** The table that a link or a children input leads to; undefined until it is answered. */
export function tableAt(context: RecipeContext, name: string): Table | undefined {
  const given = answer(context, name)
  const target = given.includes('.') ? given.split('.')[0] : fieldOf(context.table, given)?.link?.table
  return context.model.tables.find((table) => table.name === target)
}

/** The field of the hook's own table that an input was answered with. */
export const ownField = (context: RecipeContext, name: string): Field | undefined => fieldOf(context.table, answer(context, name))

/** @returns null where any text may be typed */
export function choicesFor(input: RecipeInput, context: RecipeContext): Choice[] | null {
  const { model, table } = context
  if (input.kind === 'text') return null
  if (input.kind === 'sequence') return model.sequences.map((name) => ({ value: name, title: name }))
  if (input.kind === 'value') return choicesOfField(ownField(context, input.of!))
  if (input.kind === 'children')
    return model.tables.flatMap((child) =>
      child.fields
        .filter((field) => field.link?.table === table.name && (input.accepts?.(field, context) ?? true))
        .map((field) => ({ value: `${child.name}.${field.name}`, title: `${child.label} (${field.label})` })),
    )
  const source = input.of === undefined ? table : tableAt(context, input.of)
  return (source?.fields ?? [])
    .filter((field) => (input.kind !== 'link' || field.link !== null) && (input.accepts?.(field, context) ?? true))
    .map((field) => ({ value: field.name, title: field.label }))
}

function choicesOfField(field: Field | undefined): Choice[] | null {
  if (field?.type === 'boolean') return ['true', 'false'].map((value) => ({ value, title: value === 'true' ? 'yes' : 'no' }))
  return field?.enum ? field.enum.map((value) => ({ value: String(value), title: String(value) })) : null
}

/** The value that was typed, as the field takes it. @returns undefined where it does not fit */
export function valueOf(field: Field, typed: string): string | number | boolean | undefined {
  if (field.type === 'boolean') return typed === 'true' ? true : typed === 'false' ? false : undefined
  const value = field.type === 'string' ? typed : numberIn(typed)
  if (value === undefined || value === '') return undefined
  return suits(field, value) ? value : undefined
}

/** What keeps the recipe from being written, as a sentence; null where nothing does. */
export function answerProblem(recipe: Recipe, context: RecipeContext): string | null {
  for (const input of recipe.inputs) {
    const typed = answersTo(context, input.name).filter((each) => each !== '')
    const choices = choicesFor(input, context)
    const noChoice = `${context.table.label} has no choice for "${input.label}".${adviceFor(input)}`
    if (typed.length === 0) {
      if (input.optional) continue
      if (choices?.length === 0) return noChoice
      return `Choose a value for "${input.label}".`
    }
    const wrong = choices === null ? undefined : typed.find((each) => !choices.some(({ value }) => value === each))
    if (wrong !== undefined && choices!.length === 0) return noChoice
    if (wrong !== undefined)
      return `"${wrong}" is not a choice for "${input.label}". Choose one of: ${choices!.map(({ value }) => value).join(', ')}.`
    const field = input.kind === 'value' ? ownField(context, input.of!) : undefined
    if (field && valueOf(field, typed[0]!) === undefined) return `"${typed[0]}" is not a valid value of ${field.label}.`
  }
  return null
}

function adviceFor(input: RecipeInput): string {
  if (input.kind === 'sequence') return ' Add a sequence in the project settings first.'
  if (input.kind === 'link') return ' Add a field that links to another table first.'
  if (input.kind === 'children') return ' Add a link to it from another table first.'
  return ' Add a suitable field first.'
}

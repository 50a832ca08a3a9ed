import { ERRORS, type ErrorCode } from './errors/index.js'
import { cut, LONGEST_MESSAGE } from './text.js'
import type { ErrorPlace, ErrorReport as SharedReport } from '@patient-hook/contract'

/** The product’s one error class, and errors as plain data. The codes are in errors/. */

export { ERRORS, type ErrorCode }

export type { ErrorPlace } from '@patient-hook/contract'

/** An error as plain data: crosses threads, HTTP and the command line unchanged. */
export interface ErrorReport extends Omit<SharedReport, 'code' | 'refusals' | 'others'> {
  code: ErrorCode
  /** Every refused row, where the save was refused. */
  refusals?: ErrorReport[]
  /** Several errors of one kind, such as all that is wrong with a project folder. */
  others?: ErrorReport[]
}

type Placeholders<T extends string> = T extends `${string}{${infer Name}}${infer Rest}`
  ? (Name extends `${string} ${string}` ? never : Name) | Placeholders<Rest>
  : never
type PlaceName = keyof ErrorPlace
/** What the texts of an error ask for, each by its name. */
type Asked<C extends ErrorCode> = Placeholders<(typeof ERRORS)[C]['message'] | (typeof ERRORS)[C]['todo']>
export type ErrorDetails<C extends ErrorCode = ErrorCode> = {
  [N in Asked<C>]: string | number | boolean | null | undefined
} & Partial<Pick<ErrorPlace, PlaceName>>

/** What is put into a text whole, up to the length of a message; anything else is a name or a value. */
const SENTENCES = new Set(['detail', 'reason', 'hint', 'chain', 'instead', 'children'])
/** Longest name or value in a text, in characters. */
const LONGEST_WORD = 300

function fill(template: string, details: Record<string, unknown>): string {
  return template.replace(/\{(\w+)\}/g, (_, name: string) => {
    const value = details[name]
    return value === undefined || value === null ? '' : cut(String(value), SENTENCES.has(name) ? LONGEST_MESSAGE : LONGEST_WORD)
  })
}

const PLACE: readonly PlaceName[] = ['hook', 'file', 'line', 'column', 'table', 'row', 'id', 'field']

/** Makes the plain data of an error: the message of the table, filled with the details, and its place. */
export const report = (...[code, details]: CodeAndDetails): ErrorReport => makeReport(code, details ?? {})

function makeReport(code: ErrorCode, given: Record<string, unknown>): ErrorReport {
  const told: ErrorReport = { code, message: fill(ERRORS[code].message, given), todo: fill(ERRORS[code].todo, given) }
  for (const key of PLACE) {
    const value = given[key]
    if (value !== undefined) Object.assign(told, { [key]: typeof value === 'string' ? cut(value, LONGEST_WORD) : value })
  }
  return told
}

type Details<C extends ErrorCode> = [Asked<C>] extends [never] ? [details?: ErrorDetails<C>] : [details: ErrorDetails<C>]
/** A code with what its texts ask for. */
type CodeAndDetails = { [C in ErrorCode]: [code: C, ...Details<C>] }[ErrorCode]

/** Hook code may catch an error and keep it: it cannot be changed. */
function frozen(made: ErrorReport): ErrorReport {
  for (const more of [made.refusals, made.others]) more?.forEach(frozen)
  return Object.freeze(made)
}

/** The one error class of the product; `report` is what is shown or sent. */
export class HookError extends Error {
  declare readonly report: ErrorReport
  readonly #genuine = true

  constructor(...[codeOrReport, details]: [report: ErrorReport] | CodeAndDetails) {
    const told = typeof codeOrReport === 'string' ? makeReport(codeOrReport, details ?? {}) : { ...codeOrReport }
    super(told.message)
    Object.defineProperty(this, 'name', { value: 'HookError' })
    Object.defineProperty(this, 'report', { value: frozen(told), enumerable: true })
  }

  get code(): ErrorCode {
    return this.report.code
  }

  /** Made by us, and not by somebody who found out how one looks; runs no code of the value. */
  static is(value: unknown): value is HookError {
    return value !== null && typeof value === 'object' && #genuine in value && value.#genuine
  }
}
// A user who catches one finds no way to make another, nor to change what all have in common.
Object.defineProperty(HookError.prototype, 'constructor', { value: undefined })
Object.freeze(HookError.prototype)

/** A save that was refused, by hooks or by checks; and not one that failed. */
export function isRefusal({ refusals = [] }: Pick<ErrorReport, 'refusals'>): boolean {
  return refusals.length > 0 && refusals.every(({ code }) => code === 'hook/refused' || /^(check|save)\//.test(code))
}

/** Where it happened, as far as the message does not say it itself. */
export function placeOf({ message, hook, file, line, table, row, id, field }: ErrorReport): string {
  const place: string[] = []
  const says = (word: string) => ` ${message} `.includes(word)
  if (hook && !says(` ${hook} `)) place.push(`hook ${hook}`)
  if (file && !says(file)) place.push(file + (line ? `:${line}` : ''))
  else if (line && !says(`line ${line}`)) place.push(`line ${line}`)
  if (table && row && !says(`record ${row}`)) place.push(`${table} row ${row}${id ? ` (id ${id})` : ''}`)
  else if (table && id && !says(`${table} ${id}`)) place.push(`${table} ${id}`)
  if (field && !says(`.${field} `) && !says(`field ${field}`) && !says(`/${field}`)) place.push(`field ${field}`)
  return place.join(', ')
}

/** One line for people: place, then message. */
export function describe(error: ErrorReport): string {
  const place = placeOf(error)
  return place === '' ? error.message : `${place}: ${error.message}`
}

/** The same of an error that represents several, a line each. */
export const describeAll = (error: ErrorReport): string[] => [error, ...(error.others ?? [])].map((each) => describe(each))

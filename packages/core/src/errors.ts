import { cut, LONGEST_MESSAGE } from './text.js'
import type { ErrorPlace, ErrorReport as SharedReport } from '@patient-hook/contract'

/**
 * Every error the product can give is a line in this table: a stable code, what happened, what to do.
 * docs/errors.md is made from it (scripts/make-docs.mjs), so a new error is documented by being added here.
 */
export interface ErrorKind {
  /** What happened, with `{placeholders}` filled from the details. */
  message: string
  /** What the reader should do next. */
  todo: string
  /** HTTP status the server answers with. */
  status: number
}

const kind = <const M extends string, const T extends string>(status: number, message: M, todo: T) => ({ status, message, todo })

export const ERRORS = {
  'project/missing-file': kind(400, '{file} is missing', 'Add the file, or name another project folder.'),
  'project/bad-encoding': kind(400, '{file} cannot be read: {reason}', 'Save the file as UTF-8.'),
  'project/unreadable': kind(400, '{file} cannot be read: {reason}', 'Look whether it may be read, and whether it is a file.'),
  'project/bad-json': kind(400, 'not valid JSON: {detail}', 'Mend the JSON at the place named.'),
  'project/bad-file': kind(400, '{path}: {detail}', 'Mend the file at the line named.'),
  'project/bad-csv': kind(400, '{detail}', 'Mend the CSV (RFC 4180, with a header row).'),
  'project/bad-record': kind(400, 'record {row}: {detail}', 'Mend the record in the file.'),
  'project/unknown-table': kind(400, 'There is no table {table}{hint}', 'Name a table of the project.'),
  'project/unknown-fixtures': kind(400, 'There is no fixture set {set}{hint}', 'Name a folder below fixtures/.'),
  'compile/syntax': kind(400, '{detail}', 'Mend the syntax at the line named.'),
  'compile/too-deep': kind(
    400,
    'the code is nested deeper than {limit} levels',
    'Take inner parts out into functions or constants of their own.',
  ),
  'compile/import': kind(
    400,
    "'{module}' cannot be imported here: {detail}",
    "Import from 'patient-hook', or relatively from the plugin's own lib/ folder.",
  ),
  'compile/dynamic-import': kind(
    400,
    'import() is not available inside a hook',
    "Write an import line at the top, of 'patient-hook' or a module of the plugin's lib/ folder.",
  ),
  'hook/no-definition': kind(
    400,
    'the module has no default export made by defineHook',
    'Write: export default defineHook({ table, moment, each }).',
  ),
  'hook/bad-definition': kind(400, '{detail}', 'Mend the definition; docs/hooks.md lists what each part may be.'),
  'hook/module-threw': kind(400, 'the module failed while it was loaded: {detail}', 'Mend the code outside of the functions.'),
  'hook/threw': kind(422, '{detail}', 'Mend the hook at the line named; nothing of the save was kept.'),
  'hook/unknown-field': kind(
    422,
    'table {table} has no field {field}{hint}',
    "Use the field's name; the field finder turns a label into the name.",
  ),
  'hook/wrong-type': kind(
    422,
    '{table}.{field} takes {expected}, but got {got}',
    'Convert the value in the hook, or change the type of the field.',
  ),
  'hook/readonly': kind(
    422,
    '{detail}',
    'Write to row.now in a before-save hook; to change other records, or the record itself later, ask for effects in after-save.',
  ),
  'hook/async': kind(
    400,
    '{what} cannot be used here: hooks, their modules and tests are synchronous',
    'Take async, await and Promise away; what a hook needs is read in load, once for the whole batch.',
  ),
  'hook/unavailable': kind(422, '{name} is not available inside a hook', '{instead}'),
  'hook/wrong-moment': kind(422, '{detail}', 'See docs/save-path.md for what each moment may do.'),
  'hook/bad-query': kind(422, '{detail}', 'Mend the call to store; docs/hooks.md lists its functions.'),
  'hook/bad-effect': kind(422, '{detail}', 'Mend the values of the effect.'),
  'hook/unknown-sequence': kind(422, 'there is no sequence {name}{hint}', 'Declare it under sequences in project.json.'),
  'save/unknown-table': kind(400, 'there is no table {table}{hint}', 'Name a table of the project.'),
  'save/unknown-field': kind(422, 'table {table} has no field {field}{hint}', "Use the field's name."),
  'save/wrong-type': kind(422, '{table}.{field} takes {expected}, but got {got}', 'Give a value of that type, or null.'),
  'save/bad-input': kind(400, '{detail}', 'Mend the input of the save.'),
  'save/unknown-user': kind(400, 'there is no user {user}{hint}', 'Name a user of project.json.'),
  'save/bad-clock': kind(
    400,
    'the clock {clock} is no time',
    'Give date and time as RFC 3339 has them, such as 2026-01-01T12:00:00Z.',
  ),
  'save/not-found': kind(
    404,
    '{table} has no record {id}',
    'Save without an id to create one, or reload: somebody may have removed it.',
  ),
  'save/duplicate-row': kind(
    422,
    '{table} record {id} stands twice in this save (rows {first} and {row})',
    'Give each record once.',
  ),
  'save/unknown-ref': kind(
    422,
    "{table}.{field} refers to '{ref}', which no row of this save is named",
    'Give that row the name with as, or mend the ref.',
  ),
  'rehearse/cannot-keep': kind(409, '{detail}', 'Choose another name or plugin for the test.'),
  'rehearse/no-function': kind(404, '{file} exports no function {name}{hint}', 'Write export before it, or choose another one.'),
  'rehearse/no-save': kind(404, 'there is no kept save {save}', 'Choose one of the log of saves.'),
  'rehearse/not-given': kind(
    409,
    'what save {save} was given is not kept: it had more than 500 rows, or there were a thousand saves since',
    'Rehearse the change by hand.',
  ),
  'rehearse/cannot-rewind': kind(
    409,
    'save {save} cannot be taken back: {table} {id} is not as it left it ({detail})',
    'Records that the model or another program changed since hide the saves before; run later saves again.',
  ),
  'save/document-refused': kind(
    422,
    'not kept, because row {other} of its document is refused',
    'Mend that row: a document is kept or refused as a whole.',
  ),
  'check/required': kind(422, '{label} is required', 'Give a value, or let a before-save hook fill it.'),
  'check/bounds': kind(422, '{label} {detail}', 'Give a value within the bounds of the table.'),
  'check/pattern-stopped': kind(
    422,
    'the pattern of {table}.{field} was tried for longer than {limit} ms and was stopped',
    'The pattern backtracks without end: write it so that it can match a text in one way only, such as ^a+$ for ^(a+)+$.',
  ),
  'check/unique': kind(422, '{label} {value} is taken by {other}', 'Give another value.'),
  'check/link': kind(422, '{label}: {target} has no record {value}', 'Choose an existing record, or leave the link empty.'),
  'check/linked': kind(
    422,
    '{table} {id} is linked from {children}',
    'Remove or change those records first, or give the link x-on-delete clear or cascade.',
  ),
  'hook/refused': kind(422, '{detail}', 'Change the values as the message says.'),
  'effects/conflict': kind(
    422,
    '{table} {id}: {field} is set to {first} by {firstBy} and to {second} by {secondBy} in one batch',
    'Decide in finish, where all rows are seen at once, so that each record gets one value.',
  ),
  'budget/spent': kind(
    422,
    'the save passed its budget of {limit} {budget} ({spent} spent){chain}',
    "Read fewer rows or fields, or ask once for the whole batch; of ripples, let the hook sleep for its own (ripples: 'others'); budgets in project.json set the limit.",
  ),
  'budget/stopped': kind(
    422,
    'one call ran longer than {limit} ms and was stopped',
    'Look for a regular expression that backtracks without end, or a loop inside a built-in call.',
  ),
  'budget/memory': kind(
    422,
    'the save needed more than {limit} MB of memory and was stopped',
    'Keep less in memory: smaller arrays, fewer fields, store.rollup instead of adding up rows.',
  ),
  'store/locked': kind(
    503,
    'the database {file} is locked by another program',
    'Close the other program, then save again. Nothing was kept.',
  ),
  'store/full': kind(507, 'the disk is full: {file} could not be written', 'Free some space, then save again. Nothing was kept.'),
  'store/readonly': kind(
    500,
    'the database {file} cannot be written',
    'Give this user the right to write the file and its folder.',
  ),
  'store/unopened': kind(
    500,
    'the database {file} cannot be opened: {reason}',
    'Look whether the folder is there and may be written.',
  ),
  'store/damaged': kind(500, 'the database {file} is damaged: {reason}', 'Restore a copy, or start with a new database.'),
  'store/mismatch': kind(
    500,
    'the database {file} is not what its project says: {reason}',
    'Restore a copy of the file from before it was changed.',
  ),
  'store/bad-backup': kind(
    400,
    '{file} cannot be restored: {reason}',
    'Name a file that a backup made. The records are as they were.',
  ),
  'store/newer': kind(
    500,
    'the database {file} was written by a newer version (its tables have number {number}, this version knows {newest})',
    'Start it with the newer version.',
  ),
  'store/in-use': kind(
    409,
    'the folder {folder} is being served already, by {who}',
    'Use that server, or end it first; or name another folder with --data.',
  ),
  'store/failed': kind(500, 'the database said: {reason}', 'Nothing was kept. Report this with the message.'),
  'model/bad-edit': kind(400, '{detail}', 'Mend the edit of the table.'),
  'model/blocked': kind(409, '{detail}', 'Mend the records first, or give the values that they get. Nothing was changed.'),
  'model/not-accepted': kind(409, '{detail}', 'Look at the plan, and accept what is lost. Nothing was changed.'),
  'save/changed-since': kind(
    409,
    '{field} of {table} {id} holds {got} now, and not {expected}: {who} changed it, {when}',
    'Look at the record as it is now, then save again.',
  ),
  'csv/bad-mapping': kind(
    400,
    '{file} cannot be read as records of {table} that way: {detail}',
    'Say for each column which field it is read as.',
  ),
  'view/unknown': kind(404, 'the list of {table} has no view {view}', 'Load the list of views again.'),
  'access/no-key': kind(404, 'there is no key {key}', 'Load the list of keys again.'),
  'access/denied': kind(
    401,
    '{detail}',
    'Send a key that is not revoked: Authorization: Bearer KEY. Keys are made in the Release view.',
  ),
  'access/not-allowed': kind(403, 'the key {key} may {scope} only', 'Use a key that may save.'),
  'access/name-taken': kind(
    422,
    'the Idempotency-Key {name} was used for another save already',
    'Give each save a name of its own, and repeat it only with the same rows.',
  ),
  'access/busy': kind(429, 'too many calls at once: {limit} are answered at a time', 'Wait a second, then ask again.'),
  'zip/bad': kind(
    400,
    'the zip {file} cannot be taken in: {detail}',
    'Make it again, with the files of a project or a plugin only. Nothing was kept.',
  ),
  'zip/needs': kind(
    409,
    'the zip {file} needs what is not here: {detail}',
    'Make these tables and fields in the Model view first. Nothing was kept.',
  ),
  'code/unknown': kind(404, 'there is no {what} {name}{hint}', 'Load the project again.'),
  'code/taken': kind(409, 'there is a {what} {name} already', 'Take another name. Nothing was changed.'),
  'code/bad': kind(409, '{detail}', 'Nothing was changed.'),
  'backfill/bad': kind(400, 'backfill of {table}: {detail}', 'Mend what is asked for. Nothing was changed.'),
  'backfill/no-series': kind(
    422,
    '{table}.{field} is {got}, for which no series is named',
    'Name a series for this value, or leave these records out by a condition.',
  ),
  'backfill/unknown': kind(404, 'there is no backfill {backfill}', 'Load the list of backfills again.'),
  'backfill/state': kind(
    409,
    'backfill {backfill} is {state}, so that it cannot be {asked}',
    'Load it again, and look at its state.',
  ),
  'outbox/bad': kind(409, 'message {message}: {detail}', 'Load the outbox again.'),
  'release/unknown': kind(404, 'there is no release {release}', 'Load the releases again.'),
  'release/no-plugin': kind(404, 'there is no plugin {plugin}{hint}', 'Name a plugin of the working copy, or one that is live.'),
  'release/nothing-new': kind(
    409,
    'plugin {plugin}: the working copy is what everyone gets already, version {version}',
    'Change something first, or look whether it was kept (Ctrl+S).',
  ),
  'release/taken': kind(409, 'plugin {plugin} has a version {version} already', 'Let another part of the version go up.'),
  'release/changed': kind(
    409,
    'plugin {plugin}: the working copy, the model or a release was changed since it was looked at',
    'Look once more at what differs and at the gate: they are those of another text. Nothing was released.',
  ),
  'release/not-held': kind(
    409,
    '{plugin} was not released: {detail}',
    'Mend what does not hold, or give a reason why it is released all the same.',
  ),
  'release/no-step-back': kind(
    409,
    'plugin {plugin}: there is no version before {version} that was live for everyone',
    'Switch a hook off, or release another text.',
  ),
  'release/fields-gone': kind(
    409,
    'plugin {plugin}: version {version} cannot run with the tables as they are now: {detail}',
    'Take that text as the working copy, mend it, and release it.',
  ),
  'release/bad': kind(400, '{detail}', 'Mend the request. Nothing was released.'),
  'test/expects-nothing': kind(
    422,
    'the test expects nothing: it would pass whatever the hooks do',
    'Write expect(…) for what should come out, or refusal(() => …) for a save that should be refused.',
  ),
  'test/failed': kind(422, '{detail}', 'Compare expected and received.'),
  'request/bad': kind(400, '{detail}', 'Mend the request.'),
  'request/not-found': kind(404, '{detail}', 'Check the address.'),
  'request/forbidden': kind(403, '{detail}', 'Open the address that ./start printed: it carries the access token.'),
  'request/cancelled': kind(499, 'whoever asked for this has gone', 'Ask again.'),
  'request/too-large': kind(413, 'the request is too large: {reason}', 'Send less at once: fewer rows, or shorter texts.'),
  'request/bad-encoding': kind(
    415,
    'the body cannot be read: {reason}',
    'Send JSON in UTF-8, uncompressed or with gzip, deflate or br.',
  ),
  'job/unknown': kind(404, 'there is no job {job}', 'Look at the list of jobs; ended ones are kept for a while only.'),
  'engine/stopped': kind(
    503,
    'the engine stopped: {reason}',
    'Another one goes on. Nothing of this call was kept: try once more.',
  ),
  'engine/stopped-after': kind(
    503,
    'the engine stopped after the save was kept',
    'Do not send it again: it is there. Load the records to see them.',
  ),
  'engine/stopped-unknown': kind(
    503,
    'the engine stopped ({reason}), and it cannot be found out now whether the save was kept',
    'Look at the records before you send it again.',
  ),
  'engine/closed': kind(503, 'the application is being closed', 'Start it again, then try once more.'),
  'engine/failed': kind(
    500,
    'something went wrong in Patient Hook itself: {reason}',
    'Nothing was kept. Please report this with the message.',
  ),
} as const satisfies Record<string, ErrorKind>

export type ErrorCode = keyof typeof ERRORS

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

/** Hook code may catch an error and keep it: nothing of it can be changed. */
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
// Whoever catches one finds no way to make another, nor to change what all have in common.
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

/** The same of an error that stands for several, a line each. */
export const describeAll = (error: ErrorReport): string[] => [error, ...(error.others ?? [])].map((each) => describe(each))

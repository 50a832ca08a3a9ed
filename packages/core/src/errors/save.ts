import { kind } from './kind.js'

/** Errors of a save: its rows, what checks and effects refuse, and what it may spend. */
export const SAVE_ERRORS = {
  'save/unknown-table': kind(400, 'there is no table {table}{hint}', 'Use the name of an existing table.'),
  'save/unknown-field': kind(422, 'table {table} has no field {field}{hint}', 'Use the name of a field of this table.'),
  'save/wrong-type': kind(422, '{table}.{field} takes {expected}, but got {got}', 'Give a value of that type, or null.'),
  'save/bad-input': kind(400, '{detail}', 'Correct the input of the save.'),
  'save/unknown-user': kind(
    400,
    'there is no user {user}{hint}',
    'Use the name of a user in the project settings (project.json).',
  ),
  'save/bad-clock': kind(400, '{clock} is not a valid timestamp', 'Use RFC 3339, for example 2026-01-01T12:00:00Z.'),
  'save/not-found': kind(
    404,
    '{table} has no record {id}',
    'Reload, since somebody may have removed it. To create a record, save without an id.',
  ),
  'save/duplicate-row': kind(
    422,
    '{table} {id} appears twice in this save (rows {first} and {row})',
    'Include each record once.',
  ),
  'save/unknown-ref': kind(
    422,
    "{table}.{field} refers to '{ref}', which no row of this save is named",
    'Set as of that row to this name, or correct the ref.',
  ),
  'save/document-refused': kind(
    422,
    'not saved, because row {other} of its document was refused',
    'Fix that row. The rows of a document are saved or refused together.',
  ),
  'save/changed-since': kind(
    409,
    '{field} of {table} {id} is now {got}, not {expected}: {why}',
    'Reload the record, then save again.',
  ),
  'check/required': kind(422, '{label} is required', 'Give a value, or let a before-save hook fill it.'),
  'check/bounds': kind(422, '{label} {detail}', 'Give a value within the bounds of the table.'),
  'check/pattern-stopped': kind(
    422,
    'the pattern of {table}.{field} was tried for longer than {limit} ms and was stopped',
    'The pattern backtracks without end: write it so it can match a text in one way only, such as ^a+$ for ^(a+)+$.',
  ),
  'check/unique': kind(422, '{label} {value} is taken by {other}', 'Use another value.'),
  'check/link': kind(422, '{label}: {target} has no record {value}', 'Choose an existing record, or leave the link empty.'),
  'check/linked': kind(
    422,
    '{table} {id} is linked from {children}',
    'Remove or change those records first, or give the link x-on-delete clear or cascade.',
  ),
  'effects/conflict': kind(
    422,
    '{table} {id}: {field} is set to {first} by {firstBy} and to {second} by {secondBy} in one batch',
    'Ask for the change in finish instead, once per record.',
  ),
  'budget/spent': kind(
    422,
    'the save exceeded its budget of {limit} {budget} ({spent} spent){chain}',
    '{advice} The project settings hold the limit.',
  ),
  'budget/stopped': kind(
    422,
    'one call of a function ran longer than {limit} ms and was stopped',
    'Look for a regular expression that backtracks without end, or a loop inside a built-in call.',
  ),
  'budget/query-stopped': kind(
    422,
    'one query ran longer than {limit} ms and was stopped',
    'Ask for fewer records: narrow the condition, compare a field that has an index, or shorten the pattern.',
  ),
  'budget/memory': kind(
    422,
    'the save needed more than {limit} MB of memory and was stopped',
    'Keep less in memory: smaller arrays, fewer fields, store.rollup instead of adding up rows.',
  ),
} as const

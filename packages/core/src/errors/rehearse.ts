import { kind } from './kind.js'

/** Errors of what is tried and not kept. */
export const REHEARSE_ERRORS = {
  'rehearse/cannot-keep': kind(409, '{detail}', 'Choose another name or plugin for the test.'),
  'rehearse/no-function': kind(404, '{file} exports no function {name}{hint}', 'Export the function, or choose another one.'),
  'rehearse/no-save': kind(404, 'there is no save {save}', 'Choose a save from the log in Operations.'),
  'rehearse/not-given': kind(
    409,
    'the input of save {save} is no longer stored: it had more than 500 rows, or 1,000 saves came after it',
    'Enter the change in Rehearse.',
  ),
  'rehearse/cannot-rewind': kind(
    409,
    'save {save} cannot be undone: {table} {id} changed since then ({detail})',
    'The model or another program changed records since this save. Replay a later save instead.',
  ),
} as const

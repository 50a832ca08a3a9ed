import { kind } from './kind.js'

/** Errors of what is tried and not kept. */
export const REHEARSE_ERRORS = {
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
    'save {save} cannot be undone: {table} {id} changed since then ({detail})',
    'Records that the model or another program changed since hide the saves before; run later saves again.',
  ),
} as const

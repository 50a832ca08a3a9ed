import { kind } from './kind.js'

/** Errors of changes to the model. */
export const MODEL_ERRORS = {
  'model/bad-edit': kind(400, '{detail}', 'Mend the edit of the table.'),
  'model/changed': kind(
    409,
    'the table {table} was changed by somebody else after this edit began',
    'Open the table again and repeat the change there. Nothing was changed.',
  ),
  'model/blocked': kind(409, '{detail}', 'Mend the records first, or give the values that they get. Nothing was changed.'),
  'model/not-accepted': kind(409, '{detail}', 'Look at the plan, and accept what is lost. Nothing was changed.'),
} as const

import { kind } from './kind.js'

/** Errors of changes to the model. */
export const MODEL_ERRORS = {
  'model/bad-edit': kind(400, '{detail}', 'Fix the edit of the table.'),
  'model/changed': kind(
    409,
    'the table {table} was changed by somebody else after this edit began',
    'Open the table again and repeat the change there. No changes were made.',
  ),
  'model/blocked': kind(409, '{detail}', 'Fix the records first, or give the values that they get. No changes were made.'),
  'model/not-accepted': kind(409, '{detail}', 'Look at the plan, and accept what is lost. No changes were made.'),
} as const

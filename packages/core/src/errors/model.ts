import { kind } from './kind.js'

/** Errors of changes to the model. */
export const MODEL_ERRORS = {
  'model/bad-edit': kind(400, '{detail}', 'Correct the definition of the table.'),
  'model/changed': kind(
    409,
    'the table {table} was changed by somebody else after this edit began',
    'Open the table again and repeat the change there. No changes were made.',
  ),
  'model/blocked': kind(409, '{detail}', 'Change these records first, or enter the value that they get. No changes were made.'),
  'model/not-accepted': kind(409, '{detail}', 'Review the preview, then accept the losses. No changes were made.'),
} as const

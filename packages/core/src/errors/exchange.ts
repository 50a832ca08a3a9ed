import { kind } from './kind.js'

/** Errors of files that come in and go out, and of views. */
export const EXCHANGE_ERRORS = {
  'csv/row-left': kind(422, '{detail}', 'Fix the row in the file, and import it again.'),
  'csv/bad-mapping': kind(
    400,
    '{file} cannot be read as records of {table} that way: {detail}',
    'Say for each column which field it is read as.',
  ),
  'zip/bad': kind(
    400,
    'the zip {file} cannot be imported: {detail}',
    'Make it again, with the files of a project or a plugin only. No changes were saved.',
  ),
  'zip/needs': kind(
    409,
    'the zip {file} needs what is not here: {detail}',
    'Make these tables and fields in the Model view first. No changes were saved.',
  ),
  'view/unknown': kind(404, 'the list of {table} has no view {view}', 'Load the list of views again.'),
} as const

import { kind } from './kind.js'

/** Errors of a project’s files. */
export const PROJECT_ERRORS = {
  'project/missing-file': kind(
    400,
    '{file} is missing',
    'Add the file, or name another project folder. patient-hook init creates a project.',
  ),
  'project/bad-encoding': kind(400, '{file} cannot be read: {reason}', 'Save the file as UTF-8.'),
  'project/unreadable': kind(400, '{file} cannot be read: {reason}', 'Check that it is a regular file and that you may read it.'),
  'project/outside': kind(
    400,
    '{file} is a symbolic link that leads out of the project folder',
    'Copy the file into the folder, or link to a file within it.',
  ),
  'project/misplaced': kind(400, '{file} is in a place where no file is read', '{where}'),
  'project/changed': kind(
    409,
    'the file {file} was saved by somebody else after this edit began',
    'Compare both texts, then take theirs, overwrite it with yours, or merge them. No changes were saved.',
  ),
  'project/unwritable': kind(400, '{file} cannot be created: {reason}', 'Choose a folder that you may write to.'),
  'project/bad-json': kind(400, 'not valid JSON: {detail}', 'Fix the JSON on that line.'),
  'project/bad-file': kind(400, '{path}: {detail}', 'Fix that line of the file.'),
  'project/bad-csv': kind(400, '{detail}', 'Correct the CSV file. It needs a header row and the format of RFC 4180.'),
  'project/bad-record': kind(400, 'record {row}: {detail}', 'Correct this record in the file.'),
  'project/unknown-table': kind(400, 'There is no table {table}{hint}', 'Use the name of an existing table.'),
  'project/unknown-fixtures': kind(400, 'There is no fixture set {set}{hint}', 'Use the name of a folder in fixtures/.'),
} as const

import { kind } from './kind.js'

/** Errors of a project’s files. */
export const PROJECT_ERRORS = {
  'project/missing-file': kind(400, '{file} is missing', 'Add the file, or name another project folder. patient-hook init creates a project.'),
  'project/bad-encoding': kind(400, '{file} cannot be read: {reason}', 'Save the file as UTF-8.'),
  'project/unreadable': kind(400, '{file} cannot be read: {reason}', 'Look whether it may be read, and whether it is a file.'),
  'project/outside': kind(
    400,
    '{file} is a symbolic link that leads out of the project folder',
    'Put the file itself into the folder, or a link to a place within it.',
  ),
  'project/misplaced': kind(400, '{file} stands where nothing reads it', '{where}'),
  'project/changed': kind(
    409,
    'the file {file} was saved by somebody else after this edit began',
    'Compare both texts, then take theirs, overwrite it with yours, or merge them. No changes were saved.',
  ),
  'project/unwritable': kind(400, '{file} cannot be made: {reason}', 'Choose a folder in which you may write.'),
  'project/bad-json': kind(400, 'not valid JSON: {detail}', 'Fix the JSON at the place named.'),
  'project/bad-file': kind(400, '{path}: {detail}', 'Fix the file at the line named.'),
  'project/bad-csv': kind(400, '{detail}', 'Fix the CSV (RFC 4180, with a header row).'),
  'project/bad-record': kind(400, 'record {row}: {detail}', 'Fix the record in the file.'),
  'project/unknown-table': kind(400, 'There is no table {table}{hint}', 'Name a table of the project.'),
  'project/unknown-fixtures': kind(400, 'There is no fixture set {set}{hint}', 'Name a folder below fixtures/.'),
} as const

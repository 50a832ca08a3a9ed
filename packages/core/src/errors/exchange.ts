import { kind } from './kind.js'

/** Errors of files that come in and go out, and of views. */
export const EXCHANGE_ERRORS = {
  'csv/row-left': kind(422, '{detail}', 'Fix the row in the file, then import the file again.'),
  'csv/bad-mapping': kind(
    400,
    '{file} cannot be imported into {table} with these columns: {detail}',
    'Choose a field for each column, or leave the column out.',
  ),
  'zip/bad': kind(
    400,
    'the zip {file} cannot be imported: {detail}',
    'Export it again. It may contain only the files of a project or a plugin. No changes were saved.',
  ),
  'zip/needs': kind(
    409,
    'the zip {file} needs tables or fields that this project lacks: {detail}',
    'Create them in Model first. No changes were saved.',
  ),
  'adopt/bad-source': kind(
    400,
    '{file} cannot be read as data to adopt: {detail}',
    'Name a SQLite database, or a folder with one .csv or .json file for each table. Nothing was written.',
  ),
  'view/unknown': kind(404, 'the list of {table} has no view {view}', 'Choose one of the saved views of this table.'),
} as const

import { kind } from './kind.js'

/** Errors of the application’s file, and of what it sends out. */
export const STORE_ERRORS = {
  'store/locked': kind(
    503,
    'the database {file} is locked by another program',
    'Close the other program, then save again. No changes were saved.',
  ),
  'store/full': kind(
    507,
    'the disk is full: {file} could not be written',
    'Free some space, then save again. No changes were saved.',
  ),
  'store/readonly': kind(500, 'the database {file} cannot be written', 'Allow this user to write to the file and its folder.'),
  'store/unopened': kind(
    500,
    'the database {file} cannot be opened: {reason}',
    'Check that the folder exists and that you may write to it.',
  ),
  'store/foreign': kind(
    500,
    '{file} is a database of another program',
    'Move it elsewhere, or name another folder with --data. The file was not changed.',
  ),
  'store/gap': kind(
    500,
    '{file} lacks saves that were committed: {reason}',
    'Its write-ahead log is damaged or missing. Restore the newest backup (serve --restore FILE), or continue without the missing saves (serve --accept-loss).',
  ),
  'store/damaged': kind(500, 'the database {file} is damaged: {reason}', 'Restore a backup, or start with a new database.'),
  'store/mismatch': kind(
    500,
    'the database {file} does not match its project: {reason}',
    'Restore a backup from before the file was changed.',
  ),
  'store/bad-backup': kind(
    400,
    '{file} cannot be restored: {reason}',
    'Choose a file that a backup created. The records are unchanged.',
  ),
  'store/newer': kind(
    500,
    'the database {file} was written by a newer version (schema {number}; this version supports up to {newest})',
    'Start it with the newer version.',
  ),
  'store/in-use': kind(
    409,
    'the folder {folder} is already served by {who}',
    'Use that server or stop it, or name another folder with --data.',
  ),
  'store/failed': kind(500, 'the database reported: {reason}', 'No changes were saved. Report the message if it happens again.'),
  'outbox/bad': kind(409, 'message {message}: {detail}', 'Refresh the outbox.'),
} as const

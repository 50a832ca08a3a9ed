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
  'store/readonly': kind(
    500,
    'the database {file} cannot be written',
    'Give this user the right to write the file and its folder.',
  ),
  'store/unopened': kind(
    500,
    'the database {file} cannot be opened: {reason}',
    'Look whether the folder is there and may be written.',
  ),
  'store/foreign': kind(
    500,
    '{file} is a database of another program',
    'Move it away, or name another folder with --data. It was not changed.',
  ),
  'store/gap': kind(
    500,
    '{file} is not as far as it was: {reason}',
    'Its write-ahead log is damaged or missing. Restore the newest backup (serve --restore FILE), or go on without what is missing (serve --accept-loss).',
  ),
  'store/damaged': kind(500, 'the database {file} is damaged: {reason}', 'Restore a copy, or start with a new database.'),
  'store/mismatch': kind(
    500,
    'the database {file} is not what its project says: {reason}',
    'Restore a copy of the file from before it was changed.',
  ),
  'store/bad-backup': kind(
    400,
    '{file} cannot be restored: {reason}',
    'Name a file that a backup made. The records are as they were.',
  ),
  'store/newer': kind(
    500,
    'the database {file} was written by a newer version (its tables have number {number}, this version knows {newest})',
    'Start it with the newer version.',
  ),
  'store/in-use': kind(
    409,
    'the folder {folder} is being served already, by {who}',
    'Use that server, or end it first; or name another folder with --data.',
  ),
  'store/failed': kind(500, 'the database said: {reason}', 'No changes were saved. Report this with the message.'),
  'outbox/bad': kind(409, 'message {message}: {detail}', 'Load the outbox again.'),
} as const

import { kind } from './kind.js'

/** Errors of releases and backfills. */
export const RELEASE_ERRORS = {
  'release/unknown': kind(404, 'there is no release {release}', 'Load the releases again.'),
  'release/no-plugin': kind(404, 'there is no plugin {plugin}{hint}', 'Name a plugin of the working copy, or one that is live.'),
  'release/nothing-new': kind(
    409,
    'plugin {plugin}: the working copy is what everyone gets already, version {version}',
    'Change something first, or look whether it was kept (Ctrl+S).',
  ),
  'release/taken': kind(409, 'plugin {plugin} has a version {version} already', 'Let another part of the version go up.'),
  'release/changed': kind(
    409,
    'plugin {plugin}: the working copy, the model or a release was changed since it was looked at',
    'Review the changes and run the checks again: the text has changed. No release was made.',
  ),
  'release/not-held': kind(409, '{plugin} was not released: {detail}', 'Fix the failed checks, or give an override reason.'),
  'release/no-step-back': kind(
    409,
    'plugin {plugin}: there is no version before {version} that was live for everyone',
    'Switch a hook off, or release another text.',
  ),
  'release/fields-gone': kind(
    409,
    'plugin {plugin}: version {version} cannot run with the tables as they are now: {detail}',
    'Take that text as the working copy, fix it, and release it.',
  ),
  'release/bad': kind(400, '{detail}', 'Fix the request. No release was made.'),
  'backfill/bad': kind(400, 'backfill of {table}: {detail}', 'Fix what is asked for. No changes were made.'),
  'backfill/no-series': kind(
    422,
    '{table}.{field} is {got}, for which no series is named',
    'Name a series for this value, or leave these records out by a condition.',
  ),
  'backfill/unknown': kind(404, 'there is no backfill {backfill}', 'Load the list of backfills again.'),
  'backfill/state': kind(409, 'backfill {backfill} is {state}, so it cannot be {asked}', 'Reload it and check its state.'),
} as const

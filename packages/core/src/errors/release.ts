import { kind } from './kind.js'

/** Errors of releases and backfills. */
export const RELEASE_ERRORS = {
  'release/unknown': kind(404, 'there is no release {release}', 'Choose a version from the list of releases.'),
  'release/no-plugin': kind(
    404,
    'there is no plugin {plugin}{hint}',
    'Use the name of a plugin in the working copy, or of a live one.',
  ),
  'release/nothing-new': kind(
    409,
    'plugin {plugin} has no unreleased changes: version {version} is live for everyone',
    'Change something first, and save it (Ctrl+S).',
  ),
  'release/taken': kind(409, 'plugin {plugin} already has a version {version}', 'Bump a different part of the version.'),
  'release/changed': kind(
    409,
    'plugin {plugin}: the working copy, the model or a release changed after the checks ran',
    'Review the changes and run the checks again. No release was made.',
  ),
  'release/not-held': kind(409, '{plugin} was not released: {detail}', 'Fix the failed checks, or give an override reason.'),
  'release/no-step-back': kind(
    409,
    'plugin {plugin} has no version before {version} that was live for everyone',
    'Switch the hook off, or release a corrected version.',
  ),
  'release/fields-gone': kind(
    409,
    'plugin {plugin}: version {version} cannot run with the tables as they are now: {detail}',
    'Restore that text as the working copy, fix it, and release it.',
  ),
  'release/bad': kind(400, '{detail}', 'Correct the request. No release was made.'),
  'backfill/bad': kind(400, 'backfill of {table}: {detail}', 'Correct the backfill request. No changes were made.'),
  'backfill/no-series': kind(
    422,
    '{table}.{field} is {got}, and no series is named for this value',
    'Name a series for this value, or exclude these records with a condition.',
  ),
  'backfill/unknown': kind(404, 'there is no backfill {backfill}', 'Choose one from the list of backfills.'),
  'backfill/state': kind(409, 'backfill {backfill} is {state}, so it cannot be {asked}', 'Reload it and check its state.'),
} as const

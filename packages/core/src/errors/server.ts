import { kind } from './kind.js'

/** Errors of requests, of who may ask, of jobs, and of the engines behind. */
export const SERVER_ERRORS = {
  'access/no-key': kind(404, 'there is no key {key}', 'Load the list of keys again.'),
  'access/denied': kind(
    401,
    '{detail}',
    'Send a key that is not revoked: Authorization: Bearer KEY. Keys are made in the Release view.',
  ),
  'access/not-allowed': kind(403, 'the key {key} may {scope} only', 'Use a key that may save.'),
  'access/name-taken': kind(
    422,
    'the Idempotency-Key {name} was used for another save already',
    'Give each save its own name, and repeat it only with the same rows.',
  ),
  'access/busy': kind(429, 'too many calls at once: {limit} are answered at a time', 'Wait a second, then ask again.'),
  'command/usage': kind(400, '{detail}', 'Run the command with --help for its options and examples.'),
  'request/bad': kind(400, '{detail}', 'Correct the request and send it again.'),
  'request/not-found': kind(404, '{detail}', 'Check the address.'),
  'request/forbidden': kind(
    403,
    '{detail}',
    'Open the link in access.txt in the folder of the application: each link lets one browser in.',
  ),
  'request/cancelled': kind(499, 'the client disconnected', 'Repeat the request.'),
  'request/too-slow': kind(
    408,
    'the body of the request did not arrive within {seconds} s, nor at {rate} kB/s',
    'Send the request again over a better connection, or send less at once.',
  ),
  'request/too-large': kind(413, 'the request is too large: {reason}', 'Send less at once: fewer rows, or shorter texts.'),
  'request/bad-encoding': kind(
    415,
    'the body cannot be read: {reason}',
    'Send JSON in UTF-8, uncompressed or with gzip, deflate or br.',
  ),
  'job/unknown': kind(404, 'there is no job {job}', 'Look at the list of jobs; ended ones are kept for a while only.'),
  'engine/stopped': kind(503, 'the engine stopped: {reason}', 'Another one goes on. This call made no changes: try once more.'),
  'engine/stopped-after': kind(
    503,
    'the engine stopped after the save was kept',
    'Do not send it again: it is there. Load the records to see them.',
  ),
  'engine/stopped-unknown': kind(
    503,
    'the engine stopped ({reason}), and it cannot be found out now whether the save was kept',
    'Look at the records before you send it again.',
  ),
  'engine/too-long': kind(
    503,
    'the work ({call}) took more than {seconds} s and was given up',
    'Look for types that expand without end, or try with fewer rows.',
  ),
  'engine/closed': kind(503, 'the application is being closed', 'Start it again, then try once more.'),
  'engine/failed': kind(
    500,
    'something went wrong in Patient Hook itself: {reason}',
    'No changes were saved. Please report this with the message.',
  ),
} as const

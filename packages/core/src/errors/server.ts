import { kind } from './kind.js'

/** Errors of requests, of who may ask, of jobs, and of the engines behind. */
export const SERVER_ERRORS = {
  'access/no-key': kind(404, 'there is no key {key}', 'Choose a key from the list of API keys.'),
  'access/denied': kind(401, '{detail}', 'Send a valid key as Authorization: Bearer KEY. Create keys in Operations, API keys.'),
  'access/not-allowed': kind(403, 'the key {key} may only {scope}', 'Use a key that may save records.'),
  'access/name-taken': kind(
    422,
    'the Idempotency-Key {name} was already used for another save',
    'Use a new key for each save, and repeat one only with the same rows.',
  ),
  'access/busy': kind(429, 'too many requests at once: {limit} are answered at a time', 'Wait a second, then retry.'),
  'command/usage': kind(400, '{detail}', 'Run the command with --help for its options and examples.'),
  'request/bad': kind(400, '{detail}', 'Correct the request and send it again.'),
  'request/not-found': kind(404, '{detail}', 'Check the address.'),
  'request/forbidden': kind(
    403,
    '{detail}',
    'Open the link in access.txt in the folder of the application: each link lets one browser in.',
  ),
  'request/cancelled': kind(499, 'the client disconnected', 'Send the request again if you still need the answer.'),
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
  'job/unknown': kind(404, 'there is no job {job}', 'Check the list of jobs. Finished jobs are removed after a while.'),
  'engine/stopped': kind(
    503,
    'the engine stopped: {reason}',
    'A new engine has started. This call made no changes, so retry it.',
  ),
  'engine/stopped-after': kind(
    503,
    'the engine stopped after the save was committed',
    'Do not repeat the save. Reload the records to see it.',
  ),
  'engine/stopped-unknown': kind(
    503,
    'the engine stopped ({reason}), and it is not known whether the save was committed',
    'Check the records before you repeat the save.',
  ),
  'engine/too-long': kind(
    503,
    'the work ({call}) took more than {seconds} s and was cancelled',
    'Look for types that expand without end, or try with fewer rows.',
  ),
  'engine/closed': kind(503, 'the application is shutting down', 'Start it again, then retry.'),
  'engine/failed': kind(
    500,
    'something went wrong in Patient Hook itself: {reason}',
    'No changes were saved. Retry once. If it happens again, report the message and what you did.',
  ),
} as const

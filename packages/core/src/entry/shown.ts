import { describeValue } from './describe.js'
import type { Reader } from './readers.js'

/** Anything, as a line of text for people. */
export const shown: Reader<string> = (value) =>
  typeof value === 'string' ? value : (JSON.stringify(describeValue(value)) ?? String(value))

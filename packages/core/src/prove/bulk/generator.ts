import { createRequire } from 'node:module'

/** fast-check, loaded when a proof is asked for: an engine that only saves never needs it. */

let loaded: typeof import('fast-check') | null = null

export function generator(): typeof import('fast-check') {
  return (loaded ??= createRequire(import.meta.url)('fast-check') as typeof import('fast-check'))
}

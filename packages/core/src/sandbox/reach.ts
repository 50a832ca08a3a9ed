import 'ses'
import { entry } from '../entry/entry.js'
import { own } from '../entry/readers.js'
import { HookError } from '../errors.js'
import { sealFunctions } from '../harden.js'
import { once } from '../once.js'

/** What hook code can reach: the language itself, in a hardened compartment; and what it is shown where it reaches for anything else. */

export interface CompartmentLike {
  globalThis: Record<string, unknown>
  evaluate(source: string): unknown
}
declare const Compartment: new (options?: object) => CompartmentLike

/** The language itself and nothing that reaches memory or the outside. Everything else is withheld. */
const ALLOWED = new Set(
  (
    'Array Object String Number Boolean Symbol BigInt Map Set WeakMap WeakSet Math JSON Date RegExp Error AggregateError EvalError ' +
    'RangeError ReferenceError SyntaxError TypeError URIError Proxy Reflect Iterator Infinity NaN undefined isFinite isNaN ' +
    'parseFloat parseInt decodeURI decodeURIComponent encodeURI encodeURIComponent escape unescape globalThis'
  ).split(' '),
)
/** Handed in as parameters: found faster than through the compartment's scope. */
export const FAST = [
  'Array',
  'Object',
  'String',
  'Number',
  'Boolean',
  'Map',
  'Set',
  'Math',
  'JSON',
  'Date',
  'RegExp',
  'Error',
  'isNaN',
  'isFinite',
  'parseInt',
  'parseFloat',
  'Infinity',
  'NaN',
  'undefined',
]

const INSTEAD: Record<string, string> = {
  process: 'A hook has no process: remove it.',
  fetch: 'A hook cannot reach the network: send(channel, message) puts a message into the outbox.',
  require: "Write an import line at the top, of 'patient-hook' or the plugin's lib/.",
  exports: 'Write `export` before what others may import.',
  module: 'Write `export` before what others may import.',
  setTimeout: 'Hooks are synchronous and have no timers.',
  setInterval: 'Hooks are synchronous and have no timers.',
  console: 'Use log(...) of the third argument.',
  crypto: 'There is no randomness in a hook: next(sequence) numbers records.',
  performance: 'Use clock of the third argument.',
  ArrayBuffer: 'Use plain arrays.',
  SharedArrayBuffer: 'Use plain arrays.',
  eval: 'Write the code itself.',
  Function: 'Write the code itself.',
  Promise: 'Hooks are synchronous: what a hook needs is read in load.',
}

/** Names that code might reach for: each says what to do instead of being undefined. */
const WITHHELD = [...new Set([...Object.getOwnPropertyNames(globalThis), ...Object.keys(INSTEAD)])].filter(
  (name) => !ALLOWED.has(name),
)

/**
 * What every compartment's scope inherits: made once, since to define some eighty names for each module took a quarter of running it. It is the same
 * object for all modules, so it cannot be changed.
 */
const withheld = once(() => {
  const scope = {}
  for (const name of WITHHELD) {
    const accessor = sealFunctions({
      get: entry(name, [], (): never => {
        throw unavailable(name)
      }),
      // A module of a plugin may still have a variable of that name; its value goes back to the module and nowhere else.
      set: entry(name, [own], function (this: object, value) {
        Object.defineProperty(this, name, { value, writable: true, configurable: true })
      }),
    })
    Object.defineProperty(scope, name, accessor)
  }
  return Object.freeze(scope)
})

export const unavailable = (name: string): HookError =>
  new HookError('hook/unavailable', { name, instead: INSTEAD[name] ?? 'Define it, or import it from the plugin’s lib/.' })

/** A compartment that reaches the language and nothing else. @param name of the file, for stacks */
export function makeCompartment(name: string): CompartmentLike {
  const compartment = new Compartment({ name })
  for (const each of Object.getOwnPropertyNames(compartment.globalThis))
    if (!ALLOWED.has(each)) delete compartment.globalThis[each]
  Object.setPrototypeOf(compartment.globalThis, withheld())
  return compartment
}

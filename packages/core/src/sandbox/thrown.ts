import { types } from 'node:util'
import { cut } from '../text.js'

/**
 * Reads what hook code has thrown without running any code of it: a message may be an accessor, an object may be a proxy, and
 * either may loop or throw again.
 */
export interface Thrown {
  /** `Error`, `TypeError`, … ; null for what is no error. */
  name: string | null
  message: string
  /** Null where reading it could run code. */
  stack: string | null
}

const { getOwnPropertyDescriptor, getPrototypeOf } = Object

const NATIVE = new Map<object, string>(
  [Error, AggregateError, EvalError, RangeError, ReferenceError, SyntaxError, TypeError, URIError].map((each) => [
    each.prototype as object,
    each.name,
  ]),
)

const NOT_PLAIN = Symbol('an accessor or a proxy')

/** A property as it is stored, of the object or what it inherits from. */
function stored(object: object, name: string): unknown {
  for (let at: object | null = object; at !== null; at = getPrototypeOf(at) as object | null) {
    if (types.isProxy(at)) return NOT_PLAIN
    const known = getOwnPropertyDescriptor(at, name)
    // What all errors inherit is frozen, also where lockdown has made an accessor of it.
    const native = known && !('value' in known) ? NATIVE.get(at) : undefined
    if (native !== undefined) return name === 'name' ? native : ''
    if (known) return 'value' in known ? known.value : NOT_PLAIN
  }
  return undefined
}

export function readThrown(thrown: unknown): Thrown {
  if (typeof thrown === 'string') return { name: null, message: `threw text ${JSON.stringify(cut(thrown, 200))}`, stack: null }
  if (thrown === null || (typeof thrown !== 'object' && typeof thrown !== 'function'))
    return { name: null, message: `threw ${typeof thrown === 'symbol' ? 'a symbol' : String(thrown)}`, stack: null }
  if (types.isProxy(thrown)) return { name: null, message: 'threw a proxy', stack: null }
  if (typeof thrown === 'function') return { name: null, message: 'threw a function', stack: null }
  const [name, message] = [stored(thrown, 'name'), stored(thrown, 'message')]
  const text = typeof message === 'string' ? cut(message) : ''
  if (!types.isNativeError(thrown)) return { name: null, message: text === '' ? 'threw an object' : text, stack: null }
  const plain = typeof name === 'string' && typeof message === 'string'
  const kept = plain ? getOwnPropertyDescriptor(thrown, 'stack') : undefined
  const stack: unknown = kept && 'value' in kept ? kept.value : null
  return {
    name: typeof name === 'string' ? cut(name, 100) : 'Error',
    message: text === '' ? 'threw an error without a message' : text,
    stack: typeof stack === 'string' ? stack : null,
  }
}

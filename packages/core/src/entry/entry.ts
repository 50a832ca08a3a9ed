import { types } from 'node:util'
import type { Reader } from './readers.js'

/**
 * The one gate between hook code and the engine. Every function that hook code can call is made here: its arguments are read by the
 * readers named for it before anything else happens, so no function of the engine ever sees an object of hook code.
 */

type AnyFunction = (this: never, ...values: never[]) => unknown
const entries = new WeakSet<object>()

/** Was the function made here? What is handed to hook code is checked for it (harden.ts). */
export const isEntry = (value: object): boolean => entries.has(value)

/** What the last call that failed threw. Only noted where it happens: at the end of the stack nothing more can be called. */
let thrown: unknown

/**
 * Did the stack end within a call of the engine since this was last asked? Hook code may have caught the error, and the call may have been
 * done by half.
 */
export function overflowed(): boolean {
  const error = thrown
  thrown = undefined
  return types.isNativeError(error) && error instanceof RangeError && /call stack/.test(error.message)
}

type Readers<A extends readonly unknown[]> = { [K in keyof A]: Reader<A[K]> }

/**
 * A function for hook code. It is frozen, and cannot be used as a constructor.
 * @param call as people write it: `store.byId`
 * @param readers one for each argument; further arguments are never looked at
 * @param functions that the function has itself, such as `test.skip`; entries, too
 */
export function entry<A extends readonly unknown[], T, R>(
  call: string,
  readers: readonly [...Readers<A>],
  work: (this: T, ...values: A) => R,
  functions: Readonly<Record<string, object>> = {},
): (this: T, ...values: unknown[]) => R {
  const body = work as unknown as (this: T, ...values: unknown[]) => R
  const [first, second, third] = readers as unknown as Reader<unknown>[]
  // Spelled out by the number of arguments: lists of them cost more than the whole call, and effects come by the hundred thousand.
  const ways = [
    {
      enter(this: T): R {
        try {
          return body.call(this)
        } catch (error) {
          thrown = error
          throw error
        }
      },
    },
    {
      enter(this: T, a?: unknown): R {
        try {
          return body.call(this, first!(a, call))
        } catch (error) {
          thrown = error
          throw error
        }
      },
    },
    {
      enter(this: T, a?: unknown, b?: unknown): R {
        try {
          return body.call(this, first!(a, call), second!(b, call))
        } catch (error) {
          thrown = error
          throw error
        }
      },
    },
    {
      enter(this: T, a?: unknown, b?: unknown, c?: unknown): R {
        try {
          return body.call(this, first!(a, call), second!(b, call), third!(c, call))
        } catch (error) {
          thrown = error
          throw error
        }
      },
    },
    {
      enter(this: T, ...values: unknown[]): R {
        try {
          return body.call(this, ...(readers as unknown as Reader<unknown>[]).map((read, at) => read(values[at], call)))
        } catch (error) {
          thrown = error
          throw error
        }
      },
    },
  ]
  return made(call, ways[Math.min(readers.length, ways.length - 1)]!.enter, functions)
}

/** A function that takes any number of arguments, all read alike. */
export function entryOfMany<V, T, R>(
  call: string,
  reader: Reader<V>,
  work: (this: T, values: V[]) => R,
): (this: T, ...values: unknown[]) => R {
  const { enter } = {
    enter(this: T, ...values: unknown[]): R {
      try {
        return work.call(
          this,
          values.map((value) => reader(value, call)),
        )
      } catch (error) {
        thrown = error
        throw error
      }
    },
  }
  return made(call, enter)
}

function made<F extends AnyFunction>(call: string, enter: F, functions: Readonly<Record<string, object>> = {}): F {
  Object.defineProperty(enter, 'name', { value: call.replace(/^.*\./, '') })
  for (const [name, value] of Object.entries(functions)) {
    if (typeof value === 'function' && !isEntry(value)) throw new Error(`${call}.${name} is no entry`)
    Object.defineProperty(enter, name, { value, enumerable: true })
  }
  entries.add(Object.freeze(enter))
  return enter
}

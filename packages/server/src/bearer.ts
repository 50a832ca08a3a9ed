import { createHash, randomBytes } from 'node:crypto'
import type { NextFunction, Request, Response } from 'express'
import type { ApiKey } from '@patient-hook/contract'
import { HookError, type Application } from '@patient-hook/core'
import type { ApiKeys } from './services/api-keys.js'

/** The way in for other programs: a key in the header Authorization (RFC 6750), of which only the hash is known here. */

/** Of a key, so it is known for what it is where it is found. */
const PREFIX = 'phk_'
/** Random bytes of a key. */
const BYTES = 32
/** The last use of a key is noted once in so many milliseconds. */
const NOTED_EVERY = 60_000
/** Calls that are answered at a time. */
export const MOST_CALLS = 32

export const makeSecret = (): string => PREFIX + randomBytes(BYTES).toString('base64url')
export const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex')

export interface KeyedRequest extends Request {
  key?: ApiKey
}

/** @throws HookError access/denied */
export function needKey({ live }: Application, apiKeys: ApiKeys) {
  const noted = new Map<number, number>()
  return (request: KeyedRequest, response: Response, next: NextFunction): void => {
    const [, secret] = /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '') ?? []
    const denied = (detail: string) => {
      response.set('WWW-Authenticate', 'Bearer')
      return new HookError('access/denied', { detail })
    }
    if (secret === undefined) throw denied('This call has no key')
    apiKeys
      .find(hashOf(secret))
      .then((key) => {
        if (!key) throw denied('This key is not known, or was revoked')
        request.key = key
        if (Date.now() - (noted.get(key.id) ?? 0) > NOTED_EVERY) {
          noted.set(key.id, Date.now())
          void live.call('keyUsed', key.id).catch(() => {})
        }
        next()
      })
      .catch(next)
  }
}

/** @throws HookError access/not-allowed */
export function mayOnly(key: ApiKey, what: 'read' | 'save'): void {
  if (key.scope === 'read' && what === 'save') throw new HookError('access/not-allowed', { key: key.name, scope: key.scope })
}

/** Of them, calls of one key. */
const MOST_OF_KEY = 16

/** More calls at once than are answered are reported to come again. To be asked once the body is there. @throws HookError access/busy */
export function limitCalls(limit = MOST_CALLS, ofKey = MOST_OF_KEY) {
  let atWork = 0
  const byKey = new Map<number, number>()
  return (request: KeyedRequest, response: Response, next: NextFunction): void => {
    const { id } = request.key!
    const mine = byKey.get(id) ?? 0
    if (atWork >= limit || mine >= ofKey) {
      response.set('Retry-After', '1')
      throw new HookError('access/busy', { limit: mine >= ofKey ? ofKey : limit })
    }
    atWork++
    byKey.set(id, mine + 1)
    response.on('close', () => {
      atWork--
      byKey.set(id, byKey.get(id)! - 1)
    })
    next()
  }
}

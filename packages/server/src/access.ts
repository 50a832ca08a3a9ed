import { randomBytes, timingSafeEqual } from 'node:crypto'
import type { NextFunction, Request, Response } from 'express'
import { HookError } from '@patient-hook/core'

/**
 * Who may talk to the server: the user who opened the printed link. It carries a random token that is good once, for a session that an HttpOnly
 * cookie names. Host and Origin are checked, so no other page in the browser can use it.
 */

/** A name for each port, since a browser keeps cookies by host only: two servers would take each other's away. */
const cookieName = (port: number): string => `patient_hook_access_${port}`

export const makeToken = (): string => randomBytes(24).toString('base64url')

function same(given: string | undefined, token: string): boolean {
  const [a, b] = [Buffer.from(given ?? ''), Buffer.from(token)]
  return a.length === b.length && timingSafeEqual(a, b)
}

function cookieOf(request: Request, wanted: string): string | undefined {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [name, value] = part.trim().split('=')
    if (name === wanted) return value
  }
  return undefined
}

const forbidden = (detail: string) => new HookError('request/forbidden', { detail })

/** Refuses requests for another host, or from another origin. */
export function checkOrigin(port: () => number) {
  return (request: Request, _: Response, next: NextFunction): void => {
    const hosts = [`127.0.0.1:${port()}`, `localhost:${port()}`]
    if (!hosts.includes(request.headers.host ?? ''))
      throw forbidden(`This server does not answer for the host ${(request.headers.host ?? '(none)').slice(0, 100)}`)
    const { origin } = request.headers
    if (origin !== undefined && !hosts.some((host) => origin === `http://${host}`))
      throw forbidden(`Requests from ${origin.slice(0, 100)} are not taken`)
    next()
  }
}

/** Sessions of browsers; a cookie names one, and is worth nothing to any other server. */
const MOST_SESSIONS = 1000

/**
 * The printed link and the sessions that it began. A link works once: then there is another one, for the next browser, where its owner
 * finds it (access.txt).
 */
export class Access {
  #token: string
  /** The oldest first. */
  readonly #sessions = new Set<string>()

  /** @param tell is reported about each new token */
  constructor(
    private readonly port: () => number,
    private readonly tell: (token: string) => void,
    token = makeToken(),
  ) {
    this.#token = token
  }

  get token(): string {
    return this.#token
  }

  /** `/enter?token=…` begins a session. */
  readonly enter = (request: Request, response: Response): void => {
    const { token } = request.query
    if (this.#isKnown(request)) return response.redirect(303, '/')
    if (!same(typeof token === 'string' ? token : undefined, this.#token))
      throw forbidden('The link is not the one of this server, or was used already')
    this.#token = makeToken()
    this.tell(this.#token)
    const session = makeToken()
    this.#sessions.add(session)
    const [oldest] = this.#sessions
    if (this.#sessions.size > MOST_SESSIONS) this.#sessions.delete(oldest!)
    response.cookie(cookieName(this.port()), session, { httpOnly: true, sameSite: 'strict', path: '/' })
    response.redirect(303, '/')
  }

  #isKnown(request: Request): boolean {
    const session = cookieOf(request, cookieName(this.port()))
    return session !== undefined && this.#sessions.has(session)
  }

  /** Everything below /api needs a session, from a page of this server. */
  readonly need = (request: Request, _: Response, next: NextFunction): void => {
    if (!this.#isKnown(request)) throw forbidden('This browser has not been let in yet')
    const site = request.baseUrl === '/api' ? request.headers['sec-fetch-site'] : undefined
    if (site !== undefined && site !== 'same-origin' && site !== 'none')
      throw forbidden('Requests of pages of other servers are not taken')
    next()
  }
}

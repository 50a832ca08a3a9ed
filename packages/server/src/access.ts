import { randomBytes, timingSafeEqual } from 'node:crypto'
import type { NextFunction, Request, Response } from 'express'
import { HookError } from '@patient-hook/core'

/**
 * Who may talk to the server: whoever opened the printed address. It carries a random token, which becomes an HttpOnly
 * cookie. Host and Origin are checked, so that no other page in the browser can use it.
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

/** `/enter?token=…` sets the cookie; everything below /api needs it. */
export function enter(token: string, port: () => number) {
  return (request: Request, response: Response): void => {
    if (!same(typeof request.query['token'] === 'string' ? request.query['token'] : undefined, token))
      throw forbidden('The token in this address is not the one of this server')
    response.cookie(cookieName(port()), token, { httpOnly: true, sameSite: 'strict', path: '/' })
    response.redirect(303, '/')
  }
}

export function needAccess(token: string, port: () => number) {
  return (request: Request, _: Response, next: NextFunction): void => {
    if (!same(cookieOf(request, cookieName(port())), token)) throw forbidden('This browser has not been let in yet')
    next()
  }
}

import type { NextFunction, Request, Response } from 'express'
import type { Logger } from 'pino'
import { ERRORS, HookError, report, type ErrorReport } from '@patient-hook/core'
import { tooLarge } from './bodies.js'

/** Errors as answers: the status says who has to act, and no detail of this machine is exposed. */

interface Failure {
  status: number
  report: ErrorReport
}

/** Errors of the libraries between the network and our routes: what they say is the request's fault is answered as that. */
function ofLibrary(error: unknown): Failure {
  const { type, message, status, limit } = error as { type?: string; message?: string; status?: number; limit?: number }
  const bad = (detail: string, code = 400): Failure => ({ status: code, report: report('request/bad', { detail }) })
  switch (type) {
    case 'entity.parse.failed':
      return bad(`the body is not JSON: ${withoutPaths(message ?? '')}`)
    case 'entity.too.large':
      return { status: 413, report: report('request/too-large', { reason: tooLarge(limit!) }) }
    case 'encoding.unsupported':
    case 'charset.unsupported':
      return { status: 415, report: report('request/bad-encoding', { reason: withoutPaths(message ?? type) }) }
    case 'request.aborted':
      return bad('the body ended before it was whole')
  }
  if (error instanceof URIError) return bad('the address cannot be decoded')
  if (typeof status === 'number' && status >= 400 && status < 500) return bad(withoutPaths(message ?? ''), status)
  return { status: 500, report: report('engine/failed', { reason: 'see the log of the server' }) }
}

/** Paths of this machine and stacks are nobody's business. */
export const withoutPaths = (text: string): string =>
  text
    .split('\n')[0]!
    .replace(/(?:file:\/\/)?(?:\/[\w.@-]+){2,}/g, '…')
    .slice(0, 500)

/** @param folder the application's folder, whose path answers leave out */
export function answerFailures(log: Logger, folder: string) {
  return (error: unknown, request: Request, response: Response, next: NextFunction): void => {
    const failure: Failure = HookError.is(error) ? { status: ERRORS[error.code].status, report: error.report } : ofLibrary(error)
    if (failure.status >= 500)
      log.error({ error: HookError.is(error) ? error.report : error, url: request.url }, 'request failed')
    if (response.headersSent) return next(error)
    if (response.destroyed) return
    const told = JSON.parse(
      JSON.stringify(failure.report)
        .split(JSON.stringify(`${folder}/`).slice(1, -1))
        .join(''),
    ) as ErrorReport
    response.status(failure.status)
    if (request.path.startsWith('/api')) response.json({ error: told })
    else response.type('text').send(`${told.message}\n${told.todo}\n`)
  }
}

import type { NextFunction, Request, RequestHandler, Response, Router } from 'express'
import { z } from 'zod'
import type { AnswerOf, Asked, Route } from '@patient-hook/contract'
import { HookError } from '@patient-hook/core'

/** A route of the contract, served: what came is checked, what goes out is what the contract says. */

/** Text that is JSON already, handed on as it is. */
export class JsonText {
  constructor(readonly text: string) {}
}

/** What a handler is given beside what was asked. */
export interface Asking {
  /** Aborted when the client disconnected. */
  signal: AbortSignal
  /** For what is in its headers. */
  request: Request
}

type Handler<R extends Route> = (asked: Asked<R> & Asking) => Promise<AnswerOf<R> | JsonText>

export interface ServeOptions {
  /** Answers are held against the contract before they go out: for tests. */
  checkAnswers?: boolean
}

const handle =
  (work: (request: Request, response: Response) => Promise<void>): RequestHandler =>
  (request: Request, response: Response, next: NextFunction) => {
    work(request, response).catch(next)
  }

const METHODS = { GET: 'get', POST: 'post', PUT: 'put', DELETE: 'delete' } as const

/** Adds the route to the router. */
export function serve<R extends Route>(router: Router, route: R, options: ServeOptions, handler: Handler<R>): void {
  const take = taker(route)
  router[METHODS[route.method]](
    route.path,
    handle(async (request, response) => {
      const asked = { ...take(request), signal: signalOf(response), request }
      const answer = await handler(asked)
      response.status(route.status ?? 200)
      if (options.checkAnswers) checkAnswer(route, answer)
      if (answer instanceof JsonText) response.type('json').send(answer.text)
      else response.json(answer)
    }),
  )
}

/** Adds a route whose answer is a stream of server-sent events. */
export function serveEvents<R extends Route>(
  router: Router,
  route: R,
  watch: (asked: Asked<R>, send: (event: AnswerOf<R>) => void, end: () => void) => () => void,
): void {
  const take = taker(route)
  router.get(
    route.path,
    handle(async (request, response) => {
      const asked = take(request)
      const send = (event: AnswerOf<R>) => response.write(`data: ${JSON.stringify(event)}\n\n`)
      const tell = (event: AnswerOf<R>) => {
        if (!response.headersSent)
          response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' })
        send(event)
      }
      const stop = watch(asked, tell, () => response.end())
      response.on('close', stop)
    }),
  )
}

/** Reads what a route is asked for. A parameter that it does not have is an error: it might have been a condition. */
function taker<R extends Route>({ params, query, body }: R): (request: Request) => Asked<R> {
  const known = (query ?? z.object({})).strict()
  return (request) => {
    const asked = parse(known, request.query, 'the address')
    return {
      params: params && parse(params, request.params, 'the address'),
      query: query && asked,
      body: body && parse(body, request.body, 'the request'),
    } as Asked<R>
  }
}

function signalOf(response: Response): AbortSignal {
  const controller = new AbortController()
  response.on('close', () => {
    if (!response.writableFinished) controller.abort()
  })
  return controller.signal
}

/** @throws HookError request/bad, naming the path within what was asked */
export function parse<S extends z.ZodType>(schema: S, input: unknown, whole: string): z.infer<S> {
  const parsed = schema.safeParse(input)
  if (parsed.success) return parsed.data
  const { path, said } = innermost(parsed.error.issues[0]!)
  const shown = path.map((part) => String(part).slice(0, 100)).join('.')
  throw new HookError('request/bad', { detail: `${shown || whole}: ${said}`.slice(0, 500) })
}

/** Of a choice between shapes, the one that came closest says most. */
function innermost(issue: z.core.$ZodIssue): { path: PropertyKey[]; said: string } {
  if (issue.code !== 'invalid_union' || issue.errors.length === 0) return { path: issue.path, said: issue.message }
  const deepest = issue.errors
    .map((issues) => issues[0])
    .filter((each) => each !== undefined)
    .sort((a, b) => b.path.length - a.path.length)
  const [first] = deepest
  if (first && first.path.length > 0) {
    const inner = innermost(first)
    return { path: [...issue.path, ...inner.path], said: inner.said }
  }
  return { path: issue.path, said: `expected ${[...new Set(deepest.flatMap(kindsOf))].join(', ')}` }
}

/** What would have been taken. */
function kindsOf(issue: z.core.$ZodIssue): string[] {
  if (issue.code === 'invalid_union') return issue.errors.flatMap((issues) => issues.slice(0, 1)).flatMap(kindsOf)
  return ['expected' in issue ? String(issue.expected) : issue.message]
}

function checkAnswer(route: Route, answer: unknown): void {
  const plain: unknown = answer instanceof JsonText ? JSON.parse(answer.text) : JSON.parse(JSON.stringify(answer))
  const parsed = route.answer.safeParse(plain)
  if (!parsed.success)
    throw new HookError('engine/failed', {
      reason: `the answer of ${route.method} ${route.path} is not what the contract says: ${parsed.error.issues[0]!.path.join('.')}: ${parsed.error.issues[0]!.message}`,
    })
}

import { isUtf8 } from 'node:buffer'
import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express'
import { encodingProblem, HookError } from '@patient-hook/core'

/** Bodies of requests: JSON in UTF-8, not too large, sent without long pauses, and not too many large ones at once. */

const MB = 1024 * 1024
/** Largest body, in bytes; and one that brings a CSV file with it. */
const LARGEST = 20 * MB
const LARGEST_FILE = 48 * MB
const BRINGS_FILE = /\/csv(\/columns)?$/
const largest = ({ path }: Request): number => (BRINGS_FILE.test(path) ? LARGEST_FILE : LARGEST)
/** @param limit in bytes */
export const tooLarge = (limit: number): string => `it has more than ${limit / MB} MB`
/** Bodies above this many bytes are worked on one at a time. */
const LARGE = MB

/** A body is there within so many milliseconds, or comes at this rate at least, in bytes a millisecond. */
const PATIENCE = 15_000
const LEAST_RATE = 64
const LOOK = 1000

/** A body that trickles in is given up: the connection would be held for nothing. */
const atLeastRate: RequestHandler = (request, response, next) => {
  const { socket } = request
  const [began, before] = [performance.now(), socket.bytesRead]
  const timer = setInterval(() => {
    const waited = performance.now() - began
    if (waited < PATIENCE || socket.bytesRead - before >= waited * LEAST_RATE) return
    done()
    response.once('close', () => socket.destroy())
    response.set('Connection', 'close')
    next(new HookError('request/too-slow', { seconds: PATIENCE / 1000, rate: LEAST_RATE }))
  }, LOOK)
  const done = () => clearInterval(timer)
  request.once('end', done)
  response.once('close', done)
  next()
}

/** Bodies of one address that are on their way. */
const MOST_OF_ADDRESS = 64
const arriving = new Map<string, number>()

/** @throws HookError access/busy */
const boundAddress: RequestHandler = (request, response, next) => {
  const address = request.socket.remoteAddress ?? ''
  const count = arriving.get(address) ?? 0
  if (count >= MOST_OF_ADDRESS) {
    response.set('Retry-After', '1')
    throw new HookError('access/busy', { limit: MOST_OF_ADDRESS })
  }
  arriving.set(address, count + 1)
  let here = true
  const gone = () => {
    if (!here) return
    here = false
    const left = arriving.get(address)! - 1
    if (left > 0) arriving.set(address, left)
    else arriving.delete(address)
  }
  request.once('end', gone)
  response.once('close', gone)
  next()
}

/** Bytes of bodies that are being read, or wait to be worked on. */
const MOST_WAITING = 256 * MB
let waiting = 0

/** Announced or not, bodies take no more memory than this. @throws HookError request/too-large, access/busy */
const boundTotal: RequestHandler = (request, response, next) => {
  const limit = largest(request)
  const announced = request.headers['content-length']
  const length = announced === undefined ? (request.headers['transfer-encoding'] === undefined ? 0 : limit) : Number(announced)
  if (length > limit) throw new HookError('request/too-large', { reason: tooLarge(limit) })
  if (waiting + length > MOST_WAITING) {
    response.set('Retry-After', '1')
    throw new HookError('access/busy', { limit: MOST_WAITING / LARGEST })
  }
  waiting += length
  response.once('close', () => (waiting -= length))
  next()
}

const IS_JSON = /^application\/(?:[\w.+-]+\+)?json\b/i

function readBytes(): RequestHandler {
  const [read, readFile] = [LARGEST, LARGEST_FILE].map((limit) =>
    express.raw({ limit, type: ({ headers }) => IS_JSON.test(headers['content-type'] ?? '') }),
  )
  return (request, response, next) => (largest(request) === LARGEST ? read! : readFile!)(request, response, next)
}

/** One large body at a time is parsed and worked on, once it is there: several would be in memory at once. */
function takeTurns(): RequestHandler {
  let last: Promise<void> = Promise.resolve()
  return (request: Request, response: Response, next: NextFunction) => {
    const body = request.body as unknown
    if (!Buffer.isBuffer(body) || body.length <= LARGE) return next()
    const before = last
    last = new Promise<void>((done) => response.on('close', done))
    void before.then(() => (response.destroyed ? undefined : next()))
  }
}

const parseBody: RequestHandler = (request, _response, next) => {
  const bytes = request.body as unknown
  if (!Buffer.isBuffer(bytes)) return next()
  const [, charset = 'utf-8'] = /;\s*charset="?([^";\s]+)/i.exec(request.headers['content-type'] ?? '') ?? []
  if (!/^utf-?8$/i.test(charset)) throw new HookError('request/bad-encoding', { reason: `its charset is ${charset}` })
  const problem = encodingProblem(bytes, isUtf8)
  if (problem) throw new HookError('request/bad-encoding', { reason: problem })
  const text = bytes.toString('utf8')
  const body: unknown = text.trim() === '' ? {} : parse(text)
  if (body === null || typeof body !== 'object')
    throw new HookError('request/bad', { detail: 'the body is not a JSON object or list' })
  const at = bytes.includes('__proto__') || bytes.includes('\\u005') ? findProto(body, '') : null
  if (at !== null) throw new HookError('request/bad', { detail: `${at.slice(0, 200)}: __proto__ cannot be a key` })
  request.body = body
  next()
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch (error) {
    throw new HookError('request/bad', { detail: `the body is not JSON: ${(error as Error).message.slice(0, 200)}` })
  }
}

/** A key that JavaScript takes for something else would be dropped without a word. */
function findProto(value: unknown, path: string): string | null {
  if (value === null || typeof value !== 'object') return null
  for (const [key, each] of Object.entries(value)) {
    if (key === '__proto__') return path === '' ? key : `${path}.${key}`
    const inner = findProto(each, path === '' ? key : `${path}.${key}`)
    if (inner) return inner
  }
  return null
}

const hasBody = ({ headers }: Request): boolean =>
  headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0

const whereThereIsOne =
  (handle: RequestHandler): RequestHandler =>
  (request, response, next) =>
    hasBody(request) ? handle(request, response, next) : next()

export const jsonBodies = (): RequestHandler[] =>
  [boundAddress, boundTotal, atLeastRate, readBytes(), takeTurns(), parseBody].map(whereThereIsOne)

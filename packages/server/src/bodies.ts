import { isUtf8 } from 'node:buffer'
import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express'
import { encodingProblem, HookError } from '@patient-hook/core'

/** Bodies of requests: JSON in UTF-8, not too large, not too many large ones at once. */

const MB = 1024 * 1024
/** Largest body, in bytes; and one that brings a CSV file with it. */
const LARGEST = 20 * MB
const LARGEST_FILE = 48 * MB
const BRINGS_FILE = /\/csv(\/columns)?$/
const largest = ({ path }: Request): number => (BRINGS_FILE.test(path) ? LARGEST_FILE : LARGEST)
/** @param limit in bytes */
export const tooLarge = (limit: number): string => `it has more than ${limit / MB} MB`
/** Bodies above this many bytes take turns. */
const LARGE = MB

const verify = (request: Request & { asksForKeys?: boolean }, _: Response, bytes: Buffer, encoding: string): void => {
  if (encoding !== 'utf-8') throw new HookError('request/bad-encoding', { reason: `its charset is ${encoding}` })
  const problem = encodingProblem(bytes, isUtf8)
  if (problem) throw new HookError('request/bad-encoding', { reason: problem })
  request.asksForKeys = bytes.includes('__proto__') || bytes.includes('\\u005')
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

/** One large body at a time is read and worked on: several would stand in memory beside each other, parsed. */
function takeTurns(): RequestHandler {
  let last: Promise<void> = Promise.resolve()
  return (request: Request, response: Response, next: NextFunction) => {
    const length = Number(request.headers['content-length'] ?? 0)
    const chunked = request.headers['transfer-encoding'] !== undefined
    if (!(length > LARGE || chunked)) return next()
    const limit = largest(request)
    if (length > limit) throw new HookError('request/too-large', { reason: tooLarge(limit) })
    const before = last
    last = new Promise<void>((done) => response.on('close', done))
    const mine = last
    void before.then(() => (response.destroyed ? undefined : next()))
    void mine
  }
}

const checkKeys: RequestHandler = (request: Request & { asksForKeys?: boolean }, _response, next) => {
  const at = request.asksForKeys ? findProto(request.body, '') : null
  if (at !== null) throw new HookError('request/bad', { detail: `${at.slice(0, 200)}: __proto__ cannot be a key` })
  next()
}

function readJson(): RequestHandler {
  const [read, readFile] = [LARGEST, LARGEST_FILE].map((limit) => express.json({ limit, verify: verify as never }))
  return (request, response, next) => (largest(request) === LARGEST ? read! : readFile!)(request, response, next)
}

export const jsonBodies = (): RequestHandler[] => [takeTurns(), readJson(), checkKeys]

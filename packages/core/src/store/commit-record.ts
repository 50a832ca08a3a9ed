import { createHash } from 'node:crypto'
import { closeSync, existsSync, fdatasync, openSync, readSync, rmSync, writeSync } from 'node:fs'
import { HookError } from '../errors.js'
import type { Store } from './database.js'

/**
 * A small file beside the database that says how far it has come. SQLite goes on silently without what it cannot read of a damaged
 * write-ahead log; a database that is behind its record has lost what was answered, and is not opened.
 *
 * It is written after each commit and before its answer, so it is never ahead of what is on the disk. It reaches the disk within a second: after a
 * power cut it may be behind, which hides a gap and never invents one.
 */

const SLOT_BYTES = 512
/** Written in turn, so that one of them is whole whatever happens. */
const SLOTS = 2
/** Milliseconds until what was written is on the disk, at the latest. */
const SETTLE_MS = 1000

const fileOf = (database: string): string => `${database}.commits`

interface Mark {
  /** Counts the writes of this file. */
  turn: number
  /** Highest numbers of saves, entries of the history, messages, and entries of the log of releases. */
  numbers: number[]
  /** The last save, with a hash of its line. */
  last: { save: number; at: string; hash: string } | null
}

const TABLES = ['ph_save', 'ph_history', 'ph_outbox', 'ph_release_log'] as const

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 16)

function lineOf(store: Store, save: number): { at: string; hash: string } | null {
  const [row] = store.rows('SELECT id, at, user, rows, token FROM ph_save WHERE id = ?', save)
  return row ? { at: row[1] as string, hash: hashOf(JSON.stringify(row)) } : null
}

export class CommitRecord {
  readonly #file: number
  #turn = 0
  #changes = -1
  #timer: NodeJS.Timeout | null = null

  /** @throws HookError store/gap where the database is behind the record beside it */
  constructor(private readonly store: Store) {
    const mark = readMark(fileOf(store.file))
    if (mark) {
      check(store, mark)
      this.#turn = mark.turn
    }
    this.#file = openSync(fileOf(store.file), existsSync(fileOf(store.file)) ? 'r+' : 'w+', 0o600)
    this.note()
  }

  /** To be called before a call that may have written something is answered. */
  note(): void {
    const { store } = this
    if (!store.isSettled) return
    const changes = store.one('SELECT total_changes()') as number
    if (changes === this.#changes) return
    this.#changes = changes
    const numbers = TABLES.map((table) => store.one(`SELECT coalesce(max(id), 0) FROM ${table}`) as number)
    const [save] = numbers as [number]
    const line = save > 0 ? lineOf(store, save) : null
    const mark: Mark = { turn: ++this.#turn, numbers, last: line && { save, ...line } }
    const text = JSON.stringify(mark)
    const bytes = Buffer.alloc(SLOT_BYTES, ' ')
    bytes.write(`${hashOf(text)} ${text}\n`)
    writeSync(this.#file, bytes, 0, SLOT_BYTES, (mark.turn % SLOTS) * SLOT_BYTES)
    this.#timer ??= setTimeout(() => {
      this.#timer = null
      fdatasync(this.#file, () => {})
    }, SETTLE_MS).unref()
  }

  close(): void {
    if (this.#timer) clearTimeout(this.#timer)
    closeSync(this.#file)
  }
}

/** Another file takes the place of the database, or what it lost is given up: nothing is known of how far it had come. */
export const forgetCommits = (database: string): void => rmSync(fileOf(database), { force: true })

function readMark(file: string): Mark | null {
  if (!existsSync(file)) return null
  const handle = openSync(file, 'r')
  try {
    const marks: Mark[] = []
    for (let slot = 0; slot < SLOTS; slot++) {
      const bytes = Buffer.alloc(SLOT_BYTES)
      const length = readSync(handle, bytes, 0, SLOT_BYTES, slot * SLOT_BYTES)
      const [, hash, text] = /^([0-9a-f]{16}) (.*)\n/.exec(bytes.toString('utf8', 0, length)) ?? []
      if (text !== undefined && hashOf(text) === hash) marks.push(JSON.parse(text) as Mark)
    }
    return marks.sort((a, b) => b.turn - a.turn)[0] ?? null
  } finally {
    closeSync(handle)
  }
}

/** @throws HookError store/gap */
function check(store: Store, { numbers, last }: Mark): void {
  const now = TABLES.map((table) => store.one(`SELECT coalesce(max(id), 0) FROM ${table}`) as number)
  const behind = numbers.findIndex((number, at) => number > now[at]!)
  const isOther = last !== null && behind < 0 && lineOf(store, last.save)?.hash !== last.hash
  if (behind < 0 && !isOther) return
  const missing = numbers[0]! - now[0]!
  const reason = isOther
    ? `save ${last.save} of ${last.at} is not the one that was answered`
    : missing > 0
      ? `${missing} ${missing === 1 ? 'save is' : 'saves are'} missing: it ends with save ${now[0]}, and save ${numbers[0]} of ${last?.at ?? '?'} was answered`
      : `${TABLES[behind]!.slice('ph_'.length)} ends with number ${now[behind]}, and number ${numbers[behind]} was committed`
  throw new HookError('store/gap', { file: store.file, reason })
}

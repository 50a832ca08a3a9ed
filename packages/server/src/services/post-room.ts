import { appendFileSync, existsSync, readFileSync } from 'node:fs'
import type { Letter, OutboxMessage } from '@patient-hook/contract'

/** What takes messages: mail and other services. @throws when it could not take one; it is tried again later */
export interface MessageService {
  /** @param from names the database that the message comes from: ids count from 1 in each */
  deliver(message: OutboxMessage, from: string): Promise<void>
}

/** Reads what a post room received. */
export interface Inbox {
  /** Newest first. */
  letters(offset: number, limit: number): { total: number; letters: Letter[] }
}

/**
 * The stand-in for mail and other services that ships with the product: a post room that writes what it gets into a
 * file, a JSON line each, and knows a repeat by the message's id and the database that it comes from.
 */
export class PostRoom implements MessageService, Inbox {
  readonly #known = new Set<string>()
  /** The file ends within a line: the process was killed while it wrote one. That message comes again. */
  #torn = false

  constructor(private readonly file: string) {
    if (!existsSync(file)) return
    const text = readFileSync(file, 'utf8')
    this.#torn = text !== '' && !text.endsWith('\n')
    for (const line of text.split('\n')) {
      const known = keyOf(line)
      if (known !== null) this.#known.add(known)
    }
  }

  async deliver({ id, save, channel, payload, at }: OutboxMessage, from: string): Promise<void> {
    const key = `${from} ${id}`
    if (this.#known.has(key)) return
    appendFileSync(this.file, `${this.#torn ? '\n' : ''}${JSON.stringify({ from, id, save, channel, payload, at })}\n`, {
      mode: 0o600,
    })
    this.#torn = false
    this.#known.add(key)
  }

  letters(offset: number, limit: number): { total: number; letters: Letter[] } {
    if (!existsSync(this.file)) return { total: 0, letters: [] }
    const letters = readFileSync(this.file, 'utf8').split('\n').flatMap(letterOf).reverse()
    return { total: letters.length, letters: letters.slice(offset, offset + limit) }
  }
}

const letterOf = (line: string): Letter[] => {
  if (keyOf(line) === null) return []
  const { id, save, channel, payload, at } = JSON.parse(line) as Letter
  return [{ id, save, channel, payload, at }]
}

/** @returns null for a line that is none: one that was torn off, or empty */
function keyOf(line: string): string | null {
  try {
    const { from, id } = JSON.parse(line) as { from?: unknown; id?: unknown }
    return typeof id === 'number' ? `${typeof from === 'string' ? from : ''} ${id}` : null
  } catch {
    return null
  }
}

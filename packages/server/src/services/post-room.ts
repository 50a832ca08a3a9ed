import { appendFileSync, existsSync, readFileSync } from 'node:fs'
import type { OutboxMessage } from '@patient-hook/core'

/** What takes messages: mail and other services. @throws when it could not take one; it is tried again later */
export interface MessageService {
  deliver(message: OutboxMessage): Promise<void>
}

/**
 * The stand-in for mail and other services that ships with the product: a post room that writes what it gets into a
 * file, a JSON line each, and knows a repeat by the message's id.
 */
export class PostRoom implements MessageService {
  readonly #known: Set<number>

  constructor(private readonly file: string) {
    const lines = existsSync(file) ? readFileSync(file, 'utf8').split('\n').filter(Boolean) : []
    this.#known = new Set(lines.map((line) => (JSON.parse(line) as OutboxMessage).id))
  }

  async deliver(message: OutboxMessage): Promise<void> {
    if (this.#known.has(message.id)) return
    appendFileSync(
      this.file,
      JSON.stringify({ id: message.id, save: message.save, channel: message.channel, payload: message.payload, at: message.at }) +
        '\n',
    )
    this.#known.add(message.id)
  }
}

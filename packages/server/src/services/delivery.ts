import type { Logger } from 'pino'
import type { LiveEngine } from '@patient-hook/core'
import type { MessageService } from './post-room.js'

/** Takes committed messages from the outbox to the service, oldest first, at least once. */

const AT_ONCE = 50
/** Milliseconds until a failed delivery is tried again; doubled each time, at most a minute. */
const FIRST_WAIT = 500
const LONGEST_WAIT = 60_000

export class Delivery {
  #going: Promise<void> | null = null
  #again = false
  #wait = FIRST_WAIT
  #timer: NodeJS.Timeout | null = null
  #ended = false

  constructor(
    private readonly live: LiveEngine,
    private readonly service: MessageService,
    private readonly log: Logger,
  ) {}

  /** There may be something to deliver. */
  wake(): void {
    if (this.#ended) return
    this.#again = true
    this.#going ??= this.#run()
      .catch((error: unknown) => {
        // The outbox itself cannot be read or written now: a locked file, a full disk, an engine that ended.
        this.log.warn({ error: (error as Error).message }, 'the outbox cannot be worked on; it is tried again')
        this.#later()
      })
      .finally(() => {
        this.#going = null
      })
  }

  /** Somebody asks for it now: there is no waiting for the next try. */
  hurry(): void {
    if (this.#timer) clearTimeout(this.#timer)
    this.#timer = null
    this.#wait = FIRST_WAIT
    this.wake()
  }

  /** Ends after what is being delivered. */
  async rest(): Promise<void> {
    this.#ended = true
    if (this.#timer) clearTimeout(this.#timer)
    await this.#going
  }

  async #run(): Promise<void> {
    while (this.#again && !this.#ended) {
      this.#again = false
      for (const message of await this.live.call('outboxWaiting', AT_ONCE)) {
        if (this.#ended) return
        const failure = await this.#deliver(message)
        if (failure !== null) {
          this.log.warn(
            { id: message.id, channel: message.channel, error: failure },
            'a message could not be delivered; it is tried again',
          )
          const next = new Date(Date.now() + this.#later()).toISOString()
          await this.live.call('outboxTried', message.id, null, failure, next)
          return
        }
        await this.live.call('outboxTried', message.id, new Date().toISOString(), null, null)
        this.#wait = FIRST_WAIT
        this.#again = true
      }
    }
  }

  /** @returns why it failed; null when it was taken */
  async #deliver(message: Parameters<MessageService['deliver']>[0]): Promise<string | null> {
    try {
      await this.service.deliver(message, this.live.databaseName)
      return null
    } catch (error) {
      return (error as Error).message
    }
  }

  /** @returns milliseconds until then */
  #later(): number {
    const wait = this.#wait
    if (this.#timer || this.#ended) return wait
    this.#timer = setTimeout(() => {
      this.#timer = null
      this.wake()
    }, this.#wait)
    this.#wait = Math.min(LONGEST_WAIT, this.#wait * 2)
    return wait
  }
}

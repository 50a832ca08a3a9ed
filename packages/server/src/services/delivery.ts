import type { Logger } from 'pino'
import type { EngineHost } from '@patient-hook/core'
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
    private readonly engine: EngineHost,
    private readonly service: MessageService,
    private readonly log: Logger,
  ) {}

  /** There may be something to deliver. */
  wake(): void {
    if (this.#ended) return
    this.#again = true
    this.#going ??= this.#run().finally(() => {
      this.#going = null
    })
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
      for (const message of await this.engine.call('outboxWaiting', AT_ONCE)) {
        if (this.#ended) return
        try {
          await this.service.deliver(message)
        } catch (error) {
          await this.engine.call('outboxTried', message.id, null)
          this.log.warn(
            { id: message.id, channel: message.channel, error: (error as Error).message },
            'a message could not be delivered; it is tried again',
          )
          this.#later()
          return
        }
        await this.engine.call('outboxTried', message.id, new Date().toISOString())
        this.#wait = FIRST_WAIT
        this.#again = true
      }
    }
  }

  #later(): void {
    this.#timer = setTimeout(() => this.wake(), this.#wait)
    this.#wait = Math.min(LONGEST_WAIT, this.#wait * 2)
  }
}

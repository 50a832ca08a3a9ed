import type { CallResult } from '../calls/index.js'
import { READER_LIMITS } from '../protocol.js'
import type { READS } from '../reads.js'
import { Spares } from './spares.js'
import { TryEngines } from './try-engines.js'

/**
 * Reads of live records for the interface and other programs, by their own engines, through connections that cannot write: a long list
 * never stands before a save, and one that takes too long ends with its engine. No hook runs there.
 */
type Reads = typeof READS
type ReadName = keyof Reads
type ReadValues<N extends ReadName> = Reads[N] extends (open: never, ...values: infer V) => unknown ? V : never
type ReadResult<N extends ReadName> = Reads[N] extends (...values: never[]) => infer R ? R : never

/** A second one is started when the first is busy. */
const READERS = 2

export class Reader {
  readonly #engines: TryEngines

  constructor(private readonly database: string) {
    this.#engines = new TryEngines(new Spares(READER_LIMITS, null), { files: new Map(), database }, READERS)
  }

  /** @throws HookError */
  async read<N extends ReadName>(read: N, ...values: ReadValues<N>): Promise<ReadResult<N>> {
    const answer: CallResult<'readLive'> = await this.#engines.call('readLive', [this.database, read, values], { bare: true })
    return answer as ReadResult<N>
  }

  close(): Promise<void> {
    return this.#engines.close()
  }
}

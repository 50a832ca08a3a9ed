import type { ApiKey } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'

/**
 * The API keys, held here, so no request waits behind another one's query to learn whether its key is good. This server
 * is the only one that makes and revokes keys.
 */
export class ApiKeys {
  #byHash: Map<string, ApiKey> | null = null
  #loading: Promise<void> | null = null

  constructor(private readonly application: Application) {}

  /** @returns null for a hash of no key, or of one that was revoked */
  async find(hash: string): Promise<ApiKey | null> {
    if (!this.#byHash) await this.load()
    return this.#byHash?.get(hash) ?? null
  }

  /** Reads them from the database. @throws HookError */
  load(): Promise<void> {
    this.#loading ??= this.#read().finally(() => (this.#loading = null))
    return this.#loading
  }

  async #read(): Promise<void> {
    const keys = await this.application.reader.read('keysInUse')
    this.#byHash = new Map(keys.map(({ hash, ...key }) => [hash, key]))
  }

  /** @throws HookError access/no-key; then the key is as it was */
  async revoke(id: number): Promise<void> {
    await this.application.live.call('revokeKey', id)
    for (const [hash, key] of this.#byHash ?? []) if (key.id === id) this.#byHash!.delete(hash)
  }

  async make(key: Parameters<typeof this.application.live.call<'makeKey'>>[1]): Promise<number> {
    const id = await this.application.live.call('makeKey', key)
    await this.load()
    return id
  }
}

import type { LanguageMethods } from './protocol'

/** The language worker as promises; started once for the page. */

type Answer<M extends keyof LanguageMethods> = Promise<Awaited<ReturnType<LanguageMethods[M]>>>
let worker: Worker | null = null
let next = 1
const waiting = new Map<number, { resolve: (value: never) => void; reject: (error: Error) => void }>()

function start(): Worker {
  const started = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'language' })
  started.onmessage = (event: MessageEvent<{ id: number; value: never; error?: string }>) => {
    const { id, value, error } = event.data
    const call = waiting.get(id)
    waiting.delete(id)
    if (error === undefined) call?.resolve(value)
    else call?.reject(new Error(error))
  }
  return started
}

/** Starts the worker before anything is asked of it. */
export function warmUp(): void {
  worker ??= start()
}

export function language<M extends keyof LanguageMethods>(method: M, ...values: Parameters<LanguageMethods[M]>): Answer<M> {
  worker ??= start()
  const id = next++
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve: resolve as (value: never) => void, reject })
    worker!.postMessage({ id, method, values })
  })
}

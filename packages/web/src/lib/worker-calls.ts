/** Methods of a worker as promises, on the page's side and on its own. */

// A method of any values has to be allowed for.
type Methods = Record<string, (...values: never[]) => unknown>
type Answer<M extends (...values: never[]) => unknown> = Promise<Awaited<ReturnType<M>>>

interface Call {
  id: number
  method: string
  values: unknown[]
}
interface Answered {
  id: number
  value?: unknown
  error?: string
}

/** @param make begins the worker: when it is first asked, or warmed up, once for the page */
export function workerCalls<M>(make: () => Worker) {
  let worker: Worker | null = null
  let next = 1
  const waiting = new Map<number, { resolve: (value: never) => void; reject: (error: Error) => void }>()

  function warmUp(): Worker {
    if (worker) return worker
    worker = make()
    let answers = false
    worker.onmessage = ({ data: { id, value, error } }: MessageEvent<Answered>) => {
      answers = true
      const call = waiting.get(id)
      waiting.delete(id)
      if (error === undefined) call?.resolve(value as never)
      else call?.reject(new Error(error))
    }
    // One that cannot be loaded answers nobody: the next call begins another. What one that works has thrown beside its calls is no answer to them.
    worker.onerror = ({ message }) => {
      if (answers) return
      worker = null
      for (const { reject } of waiting.values()) reject(new Error(message || 'the worker could not be loaded'))
      waiting.clear()
    }
    return worker
  }

  /** Rejects with the message of what the method threw. */
  function ask<K extends keyof M & string>(
    method: K,
    ...values: M[K] extends (...values: infer V) => unknown ? V : never
  ): M[K] extends (...values: never[]) => unknown ? Answer<M[K]> : never {
    const id = next++
    const answer = new Promise((resolve, reject) => {
      waiting.set(id, { resolve: resolve as (value: never) => void, reject })
      warmUp().postMessage({ id, method, values } satisfies Call)
    })
    return answer as ReturnType<typeof ask<K>>
  }
  return { ask, warmUp: () => void warmUp() }
}

/** Answers calls, within the worker. */
export function answerCalls<M extends { [K in keyof M]: (...values: never[]) => unknown }>(methods: M): void {
  self.onmessage = async ({ data: { id, method, values } }: MessageEvent<Call>) => {
    const answer = async (): Promise<Answered> => {
      try {
        return { id, value: await (methods as unknown as Methods)[method]!(...(values as never[])) }
      } catch (error) {
        return { id, error: (error as Error).message }
      }
    }
    self.postMessage(await answer())
  }
}

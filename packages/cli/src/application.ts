import { existsSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import type { JobEvent } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '@patient-hook/core/workbench'
import { usage } from './output.js'
import { endProgress, showProgress } from './terminal.js'

/** The application on a folder of records, as commands ask it: the one that serves the folder, or one that is started for the command. */

export interface Asked {
  /** @param path below /api @throws HookError what the application answered */
  ask<T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T>
  /** Follows a job to its end. @throws HookError why it failed */
  follow(id: string, tell: (event: JobEvent) => void): Promise<void>
}

/** @throws HookError where there are no records in the folder, or they cannot be opened */
export async function withApplication<T>(data: string, work: (application: Asked) => Promise<T>): Promise<T> {
  const folder = resolve(data)
  if (!existsSync(join(folder, 'records.db')))
    throw usage(`--data ${data}: there is no ${join(folder, 'records.db')}; name the folder that serve --data was given`)
  const { startServer } = await import('@patient-hook/server')
  const missing = () => {
    throw usage(`--data ${data}: its records hold no project`)
  }
  let close = async () => {}
  let way: () => Promise<Asked>
  try {
    const server = await startServer({ files: missing, dataFolder: folder, port: 0, fresh: false })
    close = () => server.close()
    way = () => enter(server.url)
  } catch (error) {
    if (!HookError.is(error) || error.code !== 'store/in-use') throw error
    if (addressIn(folder) === null) throw error
    way = () => enterServed(folder)
  }
  try {
    return await work(await way())
  } finally {
    await close()
  }
}

function addressIn(folder: string): string | null {
  try {
    return readFileSync(join(folder, 'access.txt'), 'utf8').trim() || null
  } catch {
    return null
  }
}

/** How often a link is looked up again that somebody else used first, and the pause between, in milliseconds. */
const TRIES = 20
const PAUSE = 50

/** A link works once: where another command took it, the next one is in the folder soon. */
async function enterServed(folder: string): Promise<Asked> {
  for (let tried = 1; ; tried++)
    try {
      const link = addressIn(folder)
      if (link === null) throw new HookError('engine/closed')
      return await enter(link)
    } catch (error) {
      if (tried === TRIES || !HookError.is(error) || error.code !== 'request/forbidden') throw error
      await new Promise((done) => setTimeout(done, PAUSE))
    }
}

async function enter(url: string): Promise<Asked> {
  const entered = await fetch(url, { redirect: 'manual' })
  const cookie = entered.headers.get('set-cookie')?.split(';')[0]
  if (!cookie) throw new HookError('request/forbidden', { detail: `${new URL(url).origin} does not let this command in` })
  const base = `${new URL(url).origin}/api`
  const send = async (method: string, path: string, body?: unknown): Promise<Response> => {
    const response = await fetch(base + path, {
      method,
      body: body === undefined ? undefined : JSON.stringify(body),
      headers: { cookie, 'content-type': 'application/json' },
    })
    if (response.ok) return response
    const { error } = (await response.json()) as { error: ErrorReport }
    throw new HookError(error as ErrorReport)
  }
  return {
    ask: async <T>(method: string, path: string, body?: unknown) => (await send(method, path, body)).json() as Promise<T>,
    async follow(id, tell) {
      const response = await send('GET', `/jobs/${id}/events`)
      for await (const event of eventsOf(response)) {
        tell(event)
        if (event.event === 'progress') showProgress(event.job.title, event.job.progress.done, event.job.progress.total)
        if (event.event !== 'end') continue
        endProgress()
        if (event.job.error) throw new HookError(event.job.error as ErrorReport)
        return
      }
      throw new HookError('engine/closed')
    },
  }
}

/** Server-sent events whose data are JSON. */
async function* eventsOf(response: Response): AsyncGenerator<JobEvent> {
  const decoder = new TextDecoder()
  let text = ''
  for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
    text += decoder.decode(chunk, { stream: true })
    const events = text.split('\n\n')
    text = events.pop()!
    for (const event of events) yield JSON.parse(event.replace(/^data: /, '')) as JobEvent
  }
}

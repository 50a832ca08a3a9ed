import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { ErrorReport } from '@patient-hook/contract'
import { startServer, type RunningServer, type ServerOptions } from '@patient-hook/server'

/** The real server on its own folder, asked as the interface asks it. */

export interface Answer<T = unknown> {
  status: number
  body: T & { error?: ErrorReport }
  /** Milliseconds until the answer was there. */
  ms: number
}

export class App {
  private constructor(
    readonly server: RunningServer,
    readonly folder: string,
    readonly cookie: string,
  ) {}

  static async start(options: Partial<ServerOptions> & Pick<ServerOptions, 'files'>): Promise<App> {
    const folder = options.dataFolder ?? mkdtempSync(join(tmpdir(), 'patient-hook-test-'))
    const server = await startServer({ port: 0, fresh: false, checkAnswers: true, ...options, dataFolder: folder })
    const entered = await fetch(server.url, { redirect: 'manual' })
    return new App(server, folder, entered.headers.get('set-cookie')!.split(';')[0]!)
  }

  get base(): string {
    return `http://127.0.0.1:${this.server.port}`
  }

  async ask<T = unknown>(method: string, path: string, body?: unknown, more: RequestInit = {}): Promise<Answer<T>> {
    const begun = performance.now()
    const response = await fetch(`${this.base}/api${path}`, {
      method,
      body: body === undefined ? undefined : JSON.stringify(body),
      ...more,
      headers: { cookie: this.cookie, 'content-type': 'application/json', ...(more.headers as Record<string, string>) },
    })
    const text = await response.text()
    return { status: response.status, body: JSON.parse(text) as Answer<T>['body'], ms: performance.now() - begun }
  }

  save(...rows: object[]): Promise<Answer<{ kept: boolean; save: number | null; records: ({ id: number } | null)[] }>> {
    return this.ask('POST', '/saves', { rows })
  }

  /** Ends the server; the folder stays when it was given. */
  async end(keep = false): Promise<void> {
    await this.server.close()
    if (!keep) rmSync(this.folder, { recursive: true, force: true })
  }
}

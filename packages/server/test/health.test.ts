import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { filesOf, text } from '../../core/test/world.js'
import { App } from './app.js'

/** What a supervisor asks: it has no session, and learns nothing but that the application works. */

test('health and readiness are answered without a session, and nothing else is', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'health-'))
  const app = await App.start({
    files: () => Object.fromEntries(filesOf({ tables: { item: { fields: { name: text } } } })),
    dataFolder: folder,
  })
  try {
    const ask = async (path: string, host?: string) => {
      const answer = await fetch(app.base + path, host === undefined ? {} : { headers: { origin: host } })
      return [answer.status, await answer.text()]
    }
    expect(await ask('/healthz')).toEqual([200, 'ok\n'])
    expect(await ask('/readyz')).toEqual([200, 'ready\n'])
    expect((await ask('/api/project'))[0]).toBe(403)
    expect((await ask('/healthz', 'http://elsewhere.example'))[0]).toBe(403)
  } finally {
    await app.server.close()
    rmSync(folder, { recursive: true, force: true })
  }
})

import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { BackfillInfo } from '@patient-hook/contract'
import { writeFolder } from '@patient-hook/core'
import Database from 'better-sqlite3'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../../core/test/world.js'

/**
 * Backfills on the command line, and through a server that is killed in the middle of them. BACKFILL_ROWS=180000 does it at the size of
 * a real project; the figure for a usual run is small enough for a slow machine.
 */

const ROWS = Number(process.env['BACKFILL_ROWS'] ?? 12_000)
const cli = join(import.meta.dirname, '../bin/patient-hook.js')

let folder: string
let served: ChildProcess | null = null
const at = (...parts: string[]) => join(folder, ...parts)
const run = (...args: string[]) => spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: folder })
const json = (...args: string[]) => JSON.parse(run(...args, '--json').stdout) as Record<string, unknown>

/** Records that came before the hook that numbers new ones. */
function write(rows: number): void {
  const lines = Array.from({ length: rows }, (_, index) => `${index + 1},name ${index + 1},${(index * 7919) % rows}`)
  writeFolder(
    at('project'),
    new Map([
      ...filesOf({
        tables: { item: { fields: { name: text, size: integer, number: { ...text, 'x-unique': true }, note: text } } },
        hooks: {
          number: hook(
            `{ table: 'item', moment: 'before-save', on: ['create'], each(row, _, { next }) { row.now.number = next('s') } }`,
          ),
        },
        project: { users: ['ada'], sequences: { s: { prefix: 'N-', digits: 8, start: 1000 } } },
      }),
      ['data/item.csv', `id,name,size\n${lines.join('\n')}\n`],
    ]),
  )
}

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'backfill-'))
})
afterEach(async () => {
  if (served) await kill()
  rmSync(folder, { recursive: true, force: true })
})

async function kill(): Promise<void> {
  const ended = new Promise((done) => served!.once('exit', done))
  // The server and its engines, all at once, as when the power goes.
  process.kill(-served!.pid!, 'SIGKILL')
  await ended
  served = null
}

type Ask = <T>(method: string, path: string, body?: object) => Promise<T>

async function serve(): Promise<Ask> {
  served = spawn('node', [cli, 'serve', 'project', '--data', 'data', '--port', '0'], { cwd: folder, detached: true })
  const url = await new Promise<string>((done, fail) => {
    served!.stdout!.on('data', (said: Buffer) => {
      const [link] = /http\S+/.exec(String(said)) ?? []
      if (link) done(link)
    })
    served!.once('exit', () => fail(new Error('it ended')))
  })
  const cookie = (await fetch(url, { redirect: 'manual' })).headers.get('set-cookie')!.split(';')[0]!
  return async <T>(method: string, path: string, body?: object) => {
    const answer = await fetch(`${new URL(url).origin}/api${path}`, {
      method,
      headers: { cookie, 'content-type': 'application/json' },
      body: body && JSON.stringify(body),
    })
    return (await answer.json()) as T
  }
}

const records = () => {
  const db = new Database(at('data', 'records.db'), { readonly: true })
  try {
    return db.prepare('SELECT id, name, size, number, note FROM item ORDER BY size, id').all() as { number: string | null }[]
  } finally {
    db.close()
  }
}

interface Going {
  backfill: BackfillInfo
  job: string | null
}

/** Asks until the backfill is so far, or has ended. */
async function until(ask: Ask, id: number, done: number): Promise<Going> {
  for (;;) {
    const going = await ask<Going>('GET', `/backfills/${id}`)
    if (going.backfill.done >= done || going.backfill.state !== 'running') return going
  }
}

/** Kills the server three times on the way to the end, and starts it again. */
async function throughKills(ask: Ask, id: number, meanwhile: (ask: Ask) => Promise<void> = async () => {}): Promise<Ask> {
  for (const share of [0.1, 0.4, 0.7]) {
    const { backfill } = await until(ask, id, ROWS * share)
    expect(backfill).toMatchObject({ state: 'running' })
    await kill()
    ask = await serve()
    await meanwhile(ask)
  }
  const { backfill } = await until(ask, id, Infinity)
  expect(backfill).toMatchObject({ state: 'done', done: backfill.total, failure: null })
  return ask
}

const texts = (first: number, count: number) =>
  Array.from({ length: count }, (_, index) => `N-${String(first + index).padStart(8, '0')}`)

test(`${ROWS} records are numbered in their order though the server is killed three times, and all of it is undone`, async () => {
  write(ROWS)
  let ask = await serve()
  const before = records()
  const { backfill } = await ask<Going>('POST', '/backfills', {
    table: 'item',
    where: { number: { empty: true } },
    order: ['size'],
    number: { field: 'number', series: 's' },
  })
  expect(backfill.total).toBe(ROWS)
  // Somebody else makes a record each time: it takes a number of the same series.
  const others: string[] = []
  ask = await throughKills(ask, backfill.id, async (ask) => {
    const { records } = await ask<{ records: { number: string }[] }>('POST', '/saves', {
      rows: [{ table: 'item', values: { name: 'new' } }],
    })
    others.push(records[0]!.number)
  })
  const after = records()
  const all = after.map(({ number }) => number!)
  // Nothing twice, none left out; those of the backfill rise in the order that was asked for.
  expect([...all].sort()).toEqual(texts(1000, ROWS + 3))
  const own = all.filter((number) => !others.includes(number))
  expect(own).toEqual([...own].sort())
  const { records: next } = await ask<{ records: { number: string }[] }>('POST', '/saves', {
    rows: [{ table: 'item', values: { name: 'last' } }],
  })
  expect(next[0]!.number).toBe(texts(1000 + ROWS + 3, 1)[0])

  const { backfill: undo } = await ask<Going>('POST', `/backfills/${backfill.id}/undo`, {})
  await throughKills(ask, undo.id)
  expect(records().filter(({ number }) => number === null)).toEqual(before)
}, 600_000)

describe('the command', () => {
  beforeEach(() => {
    write(40)
    expect(run('import', 'project', '--data', 'data')).toMatchObject({ status: 0 })
  })

  test('plans, does, and undoes; what does not fit is a wrong call', () => {
    const wish = ['--table', 'item', '--where', '{"size":{"lt":10}}', '--set', '{"note":"small"}', '--data', 'data']
    const plan = json('backfill', ...wish, '--dry')
    expect(plan).toMatchObject({ job: null, state: 'planned', found: 10, changed: 10, fields: { note: 10 }, refused: [] })
    expect((plan['sample'] as unknown[])[0]).toMatchObject({ changes: [{ field: 'note', from: null, to: 'small' }] })
    expect(records().filter((record) => 'note' in record && record.note === 'small')).toHaveLength(0)
    expect(json('backfill', ...wish)).toMatchObject({ job: 1, state: 'done', found: 10, done: 10, changed: 10, refused: [] })
    expect(records().filter((record) => 'note' in record && record.note === 'small')).toHaveLength(10)
    expect(json('backfill', '--undo', '1', '--data', 'data')).toMatchObject({ job: 2, state: 'done', changed: 10 })
    expect(records().filter((record) => 'note' in record && record.note === 'small')).toHaveLength(0)
    const wrong = run('backfill', '--table', 'item', '--set', '{"nte":1}', '--data', 'data')
    expect(wrong).toMatchObject({ status: 1 })
    expect(wrong.stderr).toMatch(/item has no field nte.*note/)
    expect(run('backfill', '--data', 'data')).toMatchObject({ status: 2 })
    expect(run('backfill', '--table', 'item', '--set', 'note', '--data', 'data')).toMatchObject({ status: 2 })
  })

  test('works beside a server too, and numbers by kind', async () => {
    await serve()
    const done = json('backfill', '--table', 'item', '--number', 'number=name:name 1=s', '--data', 'data')
    expect(done).toMatchObject({ state: 'done', found: 40, changed: 1 })
    expect(done['refused']).toHaveLength(39)
    expect((done['refused'] as unknown[])[0]).toMatchObject({ id: 2, field: 'name' })
    expect(records().filter(({ number }) => number !== null)).toMatchObject([{ number: 'N-00001000' }])
  })
})

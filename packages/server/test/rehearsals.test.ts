import { join } from 'node:path'
import Database from 'better-sqlite3'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type {
  FullRecord,
  GivenSave,
  Job,
  JobInfo,
  KeptTest,
  RecordPage,
  Rehearsal,
  ReplayedSave,
  RunEvent,
} from '@patient-hook/contract'
import { readFolder } from '@patient-hook/core'
import { App } from './app.js'

/** Rehearsals on the real server, with the demo: what they tell, that nothing of them is kept, and tests made of them. */

let app: App
const demo = Object.fromEntries(readFolder(join(import.meta.dirname, '../../../demo')))
beforeAll(async () => {
  app = await App.start({ files: () => demo })
})
afterAll(() => app.end())

const rehearse = (rows: object[], more: object = {}) =>
  app.ask<Rehearsal>('POST', '/rehearsals', { rows, recorded: true, fixtures: 'base', ...more })

/** Everything in the database but what a read may touch. */
function contents(): string {
  const db = new Database(join(app.folder, 'records.db'), { readonly: true })
  const tables = db.prepare(`SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name`).pluck().all() as string[]
  const all = tables.map((table) => [
    table,
    db
      .prepare(`SELECT * FROM "${table}"`)
      .raw()
      .all()
      .map((row) => JSON.stringify(row))
      .sort(),
  ])
  db.close()
  return JSON.stringify(all)
}

describe('the log of a run', () => {
  test('look-ups say what they asked and found, verdicts what they saw, changes where they were made', async () => {
    const { body } = await rehearse([{ table: 'lot', values: { collection: 1, gross_mass_g: 20, tare_mass_g: 5 } }])
    expect(body.error).toBeNull()
    expect(body.lookups).toContainEqual(
      expect.objectContaining({ hook: 'lot-mass', part: 'load', call: 'byId', table: 'species', found: 1, ids: [1] }),
    )
    const mass = body.rows[0]!.changes.find((change) => change.field === 'net_mass_g')!
    expect(mass).toMatchObject({ to: 15, by: 'lot-mass', at: { file: 'plugins/vault/hooks/lot-mass.ts' } })
    const { body: quarantine } = await rehearse([{ table: 'lot', values: { id: 3, handling_notes: 'new' } }])
    expect(quarantine.verdicts.find((each) => each.hook === 'lot-notes-to-siblings')).toMatchObject({
      verdict: 'skipped',
      read: { status: 'quarantine', handling_notes: 'new' },
    })
    expect(quarantine.verdicts.find((each) => each.hook === 'lot-mass')).toMatchObject({ changed: ['handling_notes'] })
  })

  test('events come in order: part, row, lines, values, what was set, look-ups, effects', async () => {
    const { body } = await rehearse([{ table: 'site', values: { id: 1, keeper_contact: 'x@example.org' } }])
    const { events } = body.log!
    const kinds = (of: RunEvent['kind']) => events.filter((event) => event.kind === of)
    expect(kinds('effect')).toContainEqual(
      expect.objectContaining({ call: 'update', to: 'collection', json: expect.anything() as unknown }),
    )
    const lookup = kinds('lookup')[0] as Extract<RunEvent, { kind: 'lookup' }>
    expect(body.lookups[lookup.index]).toMatchObject({ table: 'collection' })
    const set = events.findIndex((event) => event.kind === 'set')
    if (set >= 0) expect(events.slice(0, set).some((event) => event.kind === 'row')).toBe(true)
  })

  test('a loop of a million turns is a few events and a count', async () => {
    const file = 'plugins/vault/hooks/lot-mass.ts'
    const drafts = {
      [file]: demo[file]!.replace('each(row', 'each(row').replace(
        /(each\([^)]*\) \{)/,
        '$1\n    let n = 0\n    for (let i = 0; i < 1000000; i++) n += i % 3\n',
      ),
    }
    const { body } = await rehearse([{ table: 'lot', values: { collection: 1, gross_mass_g: 20 } }], { drafts })
    const more = body.log!.events.filter((event) => event.kind === 'more')
    expect(more.find((event) => event.of === 'turn')!.count).toBe(1_000_000 - 20)
    expect(body.log!.events.length).toBeLessThan(2000)
    expect(body.log!.leftOut).toBe(0)
  })

  test('records of a fixture set are listed, read and chosen from', async () => {
    const { body } = await app.ask<RecordPage>('GET', '/tables/lot/records?fixtures=base&search=HV')
    expect(body.total).toBe(4)
    expect((await app.ask('GET', '/tables/lot/records/1?fixtures=base')).body).toMatchObject({ record: { id: 1 } })
    expect((await app.ask('GET', '/tables/species/choices?fixtures=base&text=')).body).toMatchObject({
      choices: [{ id: 1 }, { id: 2 }, { id: 3 }, { id: 4 }],
    })
    expect((await app.ask('GET', '/tables/lot/records?fixtures=none')).body.error).toMatchObject({
      code: 'project/unknown-fixtures',
    })
  })
})

describe('nothing that is rehearsed is kept', () => {
  const HOOK = 'plugins/vault/hooks/lot-mass.ts'
  const broken = (code: string) => ({ drafts: { [HOOK]: demo[HOOK]!.replace(/(each\([^)]*\) \{)/, `$1\n${code}`) } })
  test.each<[string, object[], object]>([
    ['a change', [{ table: 'lot', id: 1, values: { bay: 'B2' } }], {}],
    ['a new record with a number', [{ table: 'lot', values: { collection: 1 } }], {}],
    ['a copy', [{ table: 'lot', copyOf: 1, values: {} }], {}],
    ['a removal', [{ table: 'request_line', id: 1, remove: true }], {}],
    [
      'a document',
      [
        { table: 'request', as: 'r', values: { partner: 1 } },
        { table: 'request_line', values: { request: { ref: 'r' }, lot: 1, packets: 1 } },
      ],
      {},
    ],
    ['messages and ripples', [{ table: 'request', id: 1, values: { urgency: 'high' } }], {}],
    ['a refusal', [{ table: 'lot', values: { collection: 999 } }], {}],
    [
      'a partial save',
      [
        { table: 'lot', values: { collection: 1 } },
        { table: 'lot', values: { collection: 999 } },
      ],
      { partial: true },
    ],
    ['a hook that throws', [{ table: 'lot', values: { collection: 1, gross_mass_g: 5 } }], broken(`throw new Error('crash')`)],
    ['a hook that never ends', [{ table: 'lot', values: { collection: 1, gross_mass_g: 5 } }], broken('for (;;) {}')],
    [
      'a hook that hangs in a pattern',
      [{ table: 'lot', values: { collection: 1, gross_mass_g: 5 } }],
      broken(`/^(a+)+$/.test('a'.repeat(40) + '!')`),
    ],
  ])('%s', async (_, rows, more) => {
    for (const fixtures of [undefined, 'base']) {
      const before = contents()
      const { body } = await rehearse(rows, { fixtures, ...more })
      expect(body.kept ?? false).toBe(false)
      expect(contents()).toBe(before)
      // And the next rehearsal begins where this one began.
      const again = await rehearse([{ table: 'lot', values: { collection: 1 } }], { fixtures })
      const first = await rehearse([{ table: 'lot', values: { collection: 1 } }], { fixtures })
      expect(again.body.records).toEqual(first.body.records)
    }
  })
})

describe('a rehearsal becomes a unit test', () => {
  const keep = (rows: object[], more: object = {}) =>
    app.ask<KeptTest>('POST', '/rehearsals/test', {
      rows,
      fixtures: 'base',
      name: 'kept from a rehearsal',
      plugin: 'vault',
      silent: [],
      ...more,
    })

  test('that passes, and fails without each hook that it is about', async () => {
    const { body } = await keep([{ table: 'lot', values: { collection: 1, gross_mass_g: 20, tare_mass_g: 5 } }])
    expect(body.failure).toBeNull()
    expect(body.notices.length).toBeGreaterThan(2)
    expect(body.notices.filter((each) => !each.fails)).toEqual([])
    expect(Object.keys(body.files).sort()).toEqual([
      'fixtures/kept-from-a-rehearsal/collection.csv',
      'fixtures/kept-from-a-rehearsal/lot.csv',
      'fixtures/kept-from-a-rehearsal/site.csv',
      'fixtures/kept-from-a-rehearsal/species.csv',
      'plugins/vault/tests/kept-from-a-rehearsal.test.ts',
    ])
    const code = body.files[body.file]!
    expect(code).toContain(`const saved = save('lot', { collection: 1, gross_mass_g: 20, tare_mass_g: 5 })`)
    expect(code).toMatch(/expect\(saved\)\.toMatchObject\(\{ .*net_mass_g: 15/)
  })

  test.each<[string, object[], RegExp]>([
    [
      'a change that ripples',
      [{ table: 'site', id: 1, values: { keeper_contact: 'x@example.org' } }],
      /expect\(get\('collection', \d\)\)\.toMatchObject/,
    ],
    [
      'a refusal',
      [{ table: 'request_line', values: { request: 1, lot: 3, packets: 1 } }],
      /expect\(refusal\(\(\) => save\('request_line'/,
    ],
    ['a message', [{ table: 'request', id: 1, values: { urgency: 'high' } }], /expect\(sent\('/],
    [
      'a document',
      [
        { table: 'request', as: 'r', values: { partner: 1, requested_on: '2026-01-05', purpose: 'research' } },
        { table: 'request_line', values: { request: { ref: 'r' }, lot: 1, packets: 1, seeds_per_packet: 10 } },
      ],
      /saveAll\(\[\n/,
    ],
    ['a copy', [{ table: 'lot', copyOf: 1, values: {} }], /copy\('lot', 1, \{\}\)/],
    ['a removal', [{ table: 'request_line', id: 1, remove: true }], /remove\('request_line', 1\)/],
  ])('%s', async (_, rows, code) => {
    const { body } = await keep(rows, { plugin: 'requests' })
    expect(body.files[body.file]).toMatch(code)
    expect([body.failure, body.files[body.file]]).toEqual([null, body.files[body.file]])
  })

  test('a partial save: the kept rows, and what was refused', async () => {
    const line = (lot: number) => ({ table: 'request_line', values: { request: 1, lot, packets: 1, seeds_per_packet: 10 } })
    const { body } = await keep([line(1), line(3)], { plugin: 'requests', partial: true })
    const code = body.files[body.file]!
    expect(code).toContain('], { partial: true })')
    expect(code).toMatch(
      /expect\(saved\.refused\)\.toMatchObject\(\[\{ row: 2, field: 'lot', message: 'lot HV-00000003 is in quarantine/,
    )
    expect([body.failure, code]).toEqual([null, code])
    expect(body.notices.find((each) => each.without === 'line-not-from-quarantine')).toMatchObject({ fails: true })
  })

  test('a negative one: a hook that must not run', async () => {
    const { body } = await keep([{ table: 'lot', id: 3, values: { handling_notes: 'new' } }], {
      silent: ['lot-notes-to-siblings'],
    })
    expect(body.files[body.file]).toContain(`expect(ran('lot-notes-to-siblings')).toBe(0)`)
    expect(body.failure).toBeNull()
  })

  test('from live records, and kept with the project', async () => {
    const { body } = await keep([{ table: 'lot', id: 2, values: { bay: 'C3', gross_mass_g: 50 } }], {
      fixtures: undefined,
      name: 'from live',
    })
    expect(body.failure).toBeNull()
    expect((await app.ask('PUT', '/files', { files: body.files })).status).toBe(200)
    expect((await keep([{ table: 'lot', id: 2, values: { bay: 'C3' } }], { name: 'from live' })).body.error).toMatchObject({
      code: 'rehearse/cannot-keep',
    })
  })
})

describe('kept saves, run again', () => {
  const file = 'plugins/vault/hooks/lot-mass.ts'
  const edited = (to: string) => ({ [file]: demo[file]!.replace('Math.round((gross - tare) * 1000) / 1000', to) })
  async function replayed(body: object): Promise<Job> {
    const { body: begun } = await app.ask<JobInfo>('POST', '/replays', body)
    await ended(begun.id)
    return (await app.ask<Job>('GET', `/jobs/${begun.id}`)).body
  }
  /** Reads the job's events until it ends. */
  async function ended(id: string): Promise<void> {
    const gone = new AbortController()
    const answer = await fetch(`${app.base}/api/jobs/${id}/events`, { headers: { cookie: app.cookie }, signal: gone.signal })
    const reader = answer.body!.getReader()
    const decoder = new TextDecoder()
    let text = ''
    while (!text.includes('"event":"end"')) {
      const { done, value } = await reader.read()
      if (done) break
      text += decoder.decode(value, { stream: true })
    }
    gone.abort()
  }

  test('by hook and field, each to be rehearsed on the records of then; nothing is kept of it', async () => {
    const untouched = (await app.ask<FullRecord>('GET', '/tables/lot/records/7')).body.record
    await app.save({ table: 'lot', id: 7, values: { gross_mass_g: 50.2, tare_mass_g: 10 } })
    await app.save({ table: 'lot', id: 7, values: { gross_mass_g: 80, tare_mass_g: 10 } })
    await app.save({ table: 'request', values: { partner: 1 } })
    const before = contents()
    const same = await replayed({ last: 100 })
    expect(same.job).toMatchObject({ kind: 'replay', state: 'done' })
    const outcomes = (job: Job) => (job.results as ReplayedSave[]).map(({ outcome }) => outcome)
    expect(new Set(outcomes(same))).toEqual(new Set(['same']))
    const other = await replayed({ last: 3, drafts: edited('Math.round(gross - tare)') })
    expect(outcomes(other)).toEqual(['different', 'same', 'same'])
    const [first] = other.results as ReplayedSave[]
    expect(first!.differences[0]).toMatchObject({ table: 'lot', id: 7, field: 'net_mass_g', then: 40.2, now: 40 })
    const given = await app.ask<GivenSave>('GET', `/saves/${first!.save}/given`)
    expect(given.body.rows).toEqual(first!.rows)
    const again = await rehearse(given.body.rows, { fixtures: undefined, before: first!.save })
    expect(again.body.rows[0]!.changes.find(({ field }) => field === 'net_mass_g')).toMatchObject({ to: 40.2 })
    const was = await app.ask<FullRecord>('GET', `/tables/lot/records/7?before=${first!.save}`)
    expect(was.body.record).toEqual(untouched)
    expect(contents()).toBe(before)
  })

  test('a hook that hangs fails its save, and the rest goes on', async () => {
    await app.save({ table: 'lot', id: 9, values: { gross_mass_g: 77, tare_mass_g: 10 } })
    await app.save({ table: 'lot', id: 10, values: { gross_mass_g: 80, tare_mass_g: 10 } })
    const hanging = edited("(gross === 77 && /^(a+)+$/.test('a'.repeat(40) + 'b') ? 0 : gross - tare)")
    const { results } = await replayed({ last: 2, drafts: hanging })
    expect((results as ReplayedSave[]).map(({ outcome, error }) => [outcome, error?.hook])).toEqual([
      ['failed', 'lot-mass'],
      ['same', undefined],
    ])
  })

  test('a save that is not there, or both a fixture set and a save, is an error', async () => {
    expect((await app.ask('GET', '/saves/99999/given')).body.error).toMatchObject({ code: 'rehearse/no-save' })
    const both = await rehearse([{ table: 'lot', id: 1, values: {} }], { before: 1 })
    expect(both.body.error).toMatchObject({ code: 'request/bad' })
  })
})

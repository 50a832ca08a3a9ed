import { mkdirSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'

/**
 * A project of the size that a real one has after some years, made from a seed: twelve areas with ten tables each, a plugin for each area, five
 * hooks and ten unit tests for each table, a fixture set with six records of each, and one set with 500 rows of the first table.
 */

const AREAS = 'orchard greenhouse mill bakery dairy apiary weaving pottery ferry library clinic theatre'.split(' ')
const NOUNS = 'order batch shelf visit task part contract report delivery member'.split(' ')
const STATES = ['open', 'held', 'done']

/** A row of numbers that looks like chance and is the same for the same seed (Park and Miller's minimal standard). */
export function chance(seed: number): (below: number) => number {
  let state = seed
  return (below) => {
    state = (state * 48271) % 2147483647
    return state % below
  }
}

export interface LargeProject {
  tables: string[]
  hooks: number
  tests: number
}

/** @returns files by path, and what there is of them */
export function largeProject(seed = 7): { files: Map<string, string>; of: LargeProject } {
  const files = new Map<string, string>()
  const below = chance(seed)
  const put = (path: string, value: unknown) =>
    files.set(path, typeof value === 'string' ? value : `${JSON.stringify(value, null, 2)}\n`)
  put('project.json', {
    name: 'large-works',
    title: 'Large Works',
    users: [{ name: 'ada' }, { name: 'bram' }],
    sequences: Object.fromEntries(AREAS.map((area) => [area, { prefix: `${area[0]!.toUpperCase()}-`, digits: 6, start: 1 }])),
  })
  const tables = AREAS.flatMap((area) => NOUNS.map((noun) => `${area}_${noun}`))
  for (const [at, table] of tables.entries()) {
    const area = AREAS[Math.floor(at / NOUNS.length)]!
    // The first table of an area is what the others belong to; areas hang together by it.
    const head = `${area}_${NOUNS[0]}`
    const parent = table === head ? (at === 0 ? null : tables[at - NOUNS.length]!) : head
    put(`tables/${table}.json`, {
      title: table.replace('_', ' '),
      type: 'object',
      properties: {
        number: { type: 'string', title: 'Number', maxLength: 12, 'x-unique': true },
        name: { type: 'string', title: 'Name', maxLength: 60 },
        status: { type: 'string', title: 'Status', enum: STATES },
        amount: { type: 'number', title: 'Amount', minimum: 0 },
        rate: { type: 'number', title: 'Rate', minimum: 0 },
        total: { type: 'number', title: 'Total' },
        pieces: { type: 'integer', title: 'Pieces', minimum: 0 },
        due: { type: 'string', format: 'date', title: 'Due' },
        note: { type: 'string', title: 'Note', maxLength: 400 },
        ...(parent ? { parent: { type: 'integer', title: 'Belongs to', 'x-link': parent } } : {}),
      },
      required: ['name'],
    })
    hooksOf(table, area, parent, put, 1 + below(9))
    testsOf(table, area, put)
    put(`fixtures/base/${table}.json`, recordsOf(table, parent, 6, below))
    put(`data/${table}.json`, recordsOf(table, parent, 20, below))
  }
  for (const area of AREAS) put(`plugins/${area}/plugin.json`, { version: '1.0.0', description: `What the ${area} wants.` })
  put(`fixtures/many/${tables[0]}.json`, recordsOf(tables[0]!, null, 500, below))
  return { files, of: { tables, hooks: tables.length * 5, tests: tables.length * 10 } }
}

export function writeProject(folder: string, files: ReadonlyMap<string, string>): void {
  for (const [path, text] of files) {
    mkdirSync(dirname(join(folder, path)), { recursive: true })
    writeFileSync(join(folder, path), text)
  }
}

type Put = (path: string, value: unknown) => void

function hooksOf(table: string, area: string, parent: string | null, put: Put, factor: number): void {
  const name = table.replaceAll('_', '-')
  const hook = (short: string, what: string, literal: string) =>
    put(
      `plugins/${area}/hooks/${name}-${short}.ts`,
      `import { defineHook } from 'patient-hook'\n\n/** ${what} */\nexport default defineHook(${literal})\n`,
    )
  hook(
    'total',
    'The total is the amount at its rate.',
    `{
  table: '${table}',
  moment: 'before-save',
  watch: ['amount', 'rate'],
  each(row) {
    const { amount, rate } = row.now
    row.now.total = amount === null || rate === null ? null : Math.round(amount * rate * 100) / 100
  },
}`,
  )
  hook(
    'status',
    'What is new is open.',
    `{
  table: '${table}',
  moment: 'before-save',
  on: ['create'],
  only: (row) => row.now.status === null,
  each(row) {
    row.now.status = 'open'
  },
}`,
  )
  hook(
    'number',
    'What is new gets a number.',
    `{
  table: '${table}',
  moment: 'before-save',
  on: ['create'],
  only: (row) => row.now.number === null,
  each(row, _, { next }) {
    row.now.number = next('${area}')
  },
}`,
  )
  hook(
    'checks',
    'Action has pieces.',
    `{
  table: '${table}',
  moment: 'before-save',
  watch: ['status', 'pieces'],
  after: ['${name}-status'],
  each(row) {
    if (row.now.status === 'done' && (row.now.pieces ?? 0) < ${factor}) row.refuse('pieces', 'Action has at least ${factor}.')
  },
}`,
  )
  if (parent)
    hook(
      'count',
      'What it belongs to knows the pieces of all that belong to it.',
      `{
  table: '${table}',
  moment: 'after-save',
  on: ['create', 'update', 'delete'],
  watch: ['pieces', 'parent'],
  load: ({ rows, store }) =>
    store.rollup('${table}', 'parent', rows.flatMap((row) => [row.now?.parent, row.was?.parent]), { sum: ['pieces'] }),
  each(row, sums, { update }) {
    for (const id of new Set([row.now?.parent ?? null, row.was?.parent ?? null]))
      if (id !== null) update('${parent}', id, { note: \`\${sums.get(id)?.sum.pieces ?? 0} pieces of ${table}\` })
  },
}`,
    )
  else
    hook(
      'told',
      'Action is reported.',
      `{
  table: '${table}',
  moment: 'after-save',
  watch: ['status'],
  only: (row) => row.became((record) => record.status === 'done'),
  each(row, _, { send }) {
    send('mail', { number: row.now.number })
  },
}`,
    )
}

function testsOf(table: string, area: string, put: Put): void {
  const cases = Array.from({ length: 6 }, (_, at) => `    [${at + 1}, ${(at + 1) / 2}, ${((at + 1) * (at + 1)) / 2}],`).join('\n')
  put(
    `plugins/${area}/tests/${table.replaceAll('_', '-')}.test.ts`,
    `import { describe, expect, test } from 'patient-hook/test'

describe('${table}', () => {
  test.each([
${cases}
  ])('%s at %s is %s', { fixtures: 'base' }, (amount, rate, total, { save }) => {
    expect(save('${table}', { name: 'x', amount, rate })).toMatchObject({ total })
  })

  test('has no total without a rate', { fixtures: 'base' }, ({ save }) => {
    expect(save('${table}', { name: 'x', amount: 1 })).toMatchObject({ total: null })
  })

  test('is open and has a number when it is new', { fixtures: 'base' }, ({ save }) => {
    expect(save('${table}', { name: 'x' })).toMatchObject({ status: 'open', number: expect.any(String) })
  })

  test('keeps the number that was given', { fixtures: 'base' }, ({ save }) => {
    expect(save('${table}', { name: 'x', number: 'mine' })).toMatchObject({ number: 'mine' })
  })

  test('is not done without pieces', { fixtures: 'base' }, ({ save }) => {
    expect(() => save('${table}', { id: 1, status: 'done', pieces: 0 })).toThrow()
  })
})
`,
  )
}

function recordsOf(table: string, parent: string | null, count: number, below: (count: number) => number): object[] {
  return Array.from({ length: count }, (_, at) => {
    const [amount, rate] = [below(400) / 4, 1 + below(8) / 2]
    return {
      id: at + 1,
      number: `${table.slice(0, 3)}-${at + 1}`,
      name: `${table.replace('_', ' ')} ${at + 1}`,
      status: STATES[below(2)]!,
      amount,
      rate,
      total: Math.round(amount * rate * 100) / 100,
      pieces: 10 + below(90),
      ...(parent ? { parent: 1 + below(Math.min(count, 6)) } : {}),
    }
  })
}

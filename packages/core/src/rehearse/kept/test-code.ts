import type { InputRow, RowOut } from '@patient-hook/contract'
import type { SaveOutcome } from '../../save/save.js'
import { valueCode } from './value-code.js'

/** The code of a unit test that saves what was rehearsed, and expects what came out. */

export interface TestWish {
  name: string
  /** Left out where no record is needed. */
  fixtures?: string
  user?: string
  clock?: string
  /** The good rows are kept when others are refused. */
  partial?: boolean
  /** Hooks that must not run: for a negative test. */
  silent: readonly string[]
}

const isRef = (value: unknown): value is { ref: string } => value !== null && typeof value === 'object' && 'ref' in value

/** Values of a row, with `ref('x')` for links within the save. */
function valuesOf({ values = {}, id }: InputRow): string {
  const parts = Object.entries({ ...(id === undefined ? {} : { id }), ...values }).filter(([, value]) => value !== undefined)
  const told = parts.map(([name, value]) => `${name}: ${isRef(value) ? `ref(${valueCode(value.ref)})` : valueCode(value)}`)
  return told.length === 0 ? '{}' : `{ ${told.join(', ')} }`
}

interface Saving {
  /** The call that saves. */
  call: string
  uses: string[]
  /** By row of the input: the name by which its record is reached; null where there is none. */
  names: (string | null)[]
  binding: string
}

function savingOf(rows: readonly InputRow[], partial: boolean): Saving {
  const [row] = rows
  if (rows.length === 1 && row && !partial) {
    const table = valueCode(row.table)
    const id = row.id ?? row.values?.['id']
    if (row.remove) return { call: `remove(${table}, ${valueCode(id)})`, uses: ['remove'], names: [null], binding: '' }
    if (row.copyOf !== undefined)
      return {
        call: `copy(${table}, ${row.copyOf}, ${valuesOf(row)})`,
        uses: ['copy'],
        names: ['saved'],
        binding: 'const saved = ',
      }
    return { call: `save(${table}, ${valuesOf(row)})`, uses: ['save'], names: ['saved'], binding: 'const saved = ' }
  }
  const list = rows.map((each) => {
    const more = [
      ...(each.as === undefined ? [] : [`as: ${valueCode(each.as)}`]),
      ...(each.copyOf === undefined ? [] : [`copyOf: ${each.copyOf}`]),
      ...(each.remove ? ['remove: true'] : []),
    ]
    return `    { table: ${valueCode(each.table)}, values: ${valuesOf(each)}${more.length ? `, ${more.join(', ')}` : ''} },\n`
  })
  const uses = ['saveAll', ...(rows.some((each) => Object.values(each.values ?? {}).some(isRef)) ? ['ref'] : [])]
  return {
    call: `saveAll([\n${list.join('')}  ]${partial ? ', { partial: true }' : ''})`,
    uses,
    names: rows.map((each, index) => (each.remove ? null : `saved[${index}]`)),
    binding: 'const saved = ',
  }
}

/** @param outcome of the save on the test's own fixture set */
export function testCode(wish: TestWish, rows: readonly InputRow[], outcome: SaveOutcome): string {
  const saving = savingOf(rows, wish.partial ?? false)
  const uses = new Set(saving.uses)
  const lines: string[] = []
  const expectLine = (received: string, matcher: string, value: unknown) =>
    lines.push(`expect(${received}).${matcher}(${valueCode(value)})`)
  const refused = outcome.error?.refusals ?? []
  const [refusal] = refused
  if (refusal) {
    uses.add('refusal')
    const { field, message, hook } = refusal
    expectLine(`refusal(() => ${saving.call})`, 'toMatchObject', { field: field ?? null, message, ...(hook ? { hook } : {}) })
  } else {
    const out = new Set(outcome.refusals.map((each) => each.row))
    const told = outcome.rows.filter((row) => row.depth === 0 && !out.has(row.row))
    const named = out.size > 0 || told.some((row) => saving.names[row.row - 1] && byHooks(row))
    lines.push(`${named ? saving.binding : ''}${saving.call}`)
    if (out.size > 0)
      expectLine(
        'saved.refused',
        'toMatchObject',
        outcome.refusals.map(({ row, field, message }) => ({ row, field: field ?? null, message })),
      )
    for (const row of told) {
      const name = saving.names[row.row - 1]
      const values = byHooks(row)
      if (name && values) expectLine(name, 'toMatchObject', values)
    }
    for (const row of latest(outcome.rows.filter((each) => each.depth > 0))) {
      const values = byHooks(row)
      if (row.event === 'delete') {
        uses.add('get')
        expectLine(`get(${valueCode(row.table)}, ${row.id})`, 'toBe', null)
      } else if (row.event === 'create') {
        uses.add('rows')
        expectLine(`rows(${valueCode(row.table)}, ${valueCode(values ?? {})})`, 'toHaveLength', 1)
      } else if (values) {
        uses.add('get')
        expectLine(`get(${valueCode(row.table)}, ${row.id})`, 'toMatchObject', values)
      }
    }
    for (const channel of new Set(outcome.sent.map((each) => each.channel))) {
      uses.add('sent')
      expectLine(
        `sent(${valueCode(channel)})`,
        'toEqual',
        outcome.sent.filter((each) => each.channel === channel).map((each) => each.message),
      )
    }
  }
  for (const hook of Object.keys(outcome.ran).sort()) expectRan(hook, outcome.ran[hook]!)
  for (const hook of wish.silent) if (!outcome.ran[hook]) expectRan(hook, 0)
  function expectRan(hook: string, count: number): void {
    uses.add('ran')
    expectLine(`ran(${valueCode(hook)})`, 'toBe', count)
  }
  const options = valueCode({
    ...(wish.fixtures === undefined ? {} : { fixtures: wish.fixtures }),
    ...(wish.user === undefined ? {} : { user: wish.user }),
    ...(wish.clock === undefined ? {} : { clock: wish.clock }),
  })
  const head = `test(${valueCode(wish.name)}, ${options}, ({ ${[...uses].sort().join(', ')} }) => {`
  return `import { expect, test } from 'patient-hook/test'\n\n${head}\n${lines.map((line) => `  ${line}\n`).join('')}})\n`
}

/** What hooks and ripples set, which is what a test is for; numbers of sequences depend on what was saved before. */
function byHooks(row: RowOut): Record<string, unknown> | null {
  const changes = row.changes.filter((change) => change.kind === 'hook' || change.kind === 'ripple' || change.kind === 'sequence')
  return changes.length === 0 ? null : Object.fromEntries(changes.map(({ field, to }) => [field, to]))
}

/** Of a record that rippled more than once, how it was in the end, with all that was set. */
function latest(rows: readonly RowOut[]): RowOut[] {
  const byRecord = new Map<string, RowOut>()
  for (const row of rows) {
    const key = `${row.table} ${row.id}`
    const before = byRecord.get(key)
    const changes = before
      ? [...before.changes.filter((each) => !row.changes.some(({ field }) => field === each.field)), ...row.changes]
      : row.changes
    byRecord.set(key, { ...row, event: before?.event === 'create' && row.event === 'update' ? 'create' : row.event, changes })
  }
  return [...byRecord.values()]
}

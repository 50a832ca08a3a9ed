import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { ErrorReport } from '../../../src/errors.js'
import type { InputRow } from '../../../src/save/types.js'
import { World } from '../../world.js'
import { programs, rulesOf, sourceOf, type Batch, type Cell, type Program } from './programs.js'

/**
 * The save path against PostgreSQL's own row triggers and deferred constraint triggers (PGlite, a build of PostgreSQL
 * for WebAssembly): the same rules, the same batches, the same final tables and the same refusals.
 *
 * More programs: ORACLE_RUNS=5000 npx vitest run packages/core/test/oracle
 *
 * Where the two differ by design, the case is counted, with the reason, and not compared:
 *  - conflict: two rows of a batch set one field of one record to different values. PostgreSQL lets the last row win;
 *    we report it, because a batch has no order that a user meant.
 *  - depth: sibling rules can chase each other for longer than the ripple budget; PostgreSQL goes on to its stack limit.
 *  - cascade order: PostgreSQL removes children within the parent's statement, so a child's refusal and the parent's
 *    foreign key are seen in another order. Both refuse; the reason that is named first may differ. Counted as equal
 *    only when both refuse.
 */
const RUNS = Number(process.env['ORACLE_RUNS'] ?? 300)

let postgres: PGlite
beforeAll(async () => {
  postgres = await PGlite.create()
})
afterAll(() => postgres.close())

const CODES: Record<string, string> = {
  '23502': 'check/required',
  '23514': 'check/bounds',
  '23505': 'check/unique',
  '23503': 'check/link',
}
const FIELDS = {
  parent: ['name', 'rate', 'status', 'total', 'n'],
  child: ['parent', 'qty', 'rate', 'amount', 'note', 'status', 'code'],
}
const TYPES: Record<string, string> = { name: 'text', status: 'text', note: 'text', code: 'text' }

function schemaOf(program: Program): string {
  const action = { refuse: 'NO ACTION', clear: 'SET NULL', cascade: 'CASCADE' }[program.onDelete]
  return `
    DROP SCHEMA public CASCADE; CREATE SCHEMA public;
    CREATE TABLE parent (id int PRIMARY KEY, name text NOT NULL, rate int, status text CHECK (status IN ('a', 'b', 'c')), total int, n int);
    CREATE TABLE child (id int PRIMARY KEY, parent int REFERENCES parent (id) ON DELETE ${action} DEFERRABLE INITIALLY DEFERRED,
      qty int CHECK (qty >= 0), rate int, amount int, note text, status text CHECK (status IN ('a', 'b', 'c')), code text ${program.uniqueCode ? 'UNIQUE DEFERRABLE INITIALLY IMMEDIATE' : ''});
    ${rulesOf(program)
      .map((rule) => rule.postgres)
      .join('\n')}`
}

const literal = (field: string, value: Cell): string =>
  value === null ? `NULL::${TYPES[field] ?? 'int'}` : typeof value === 'number' ? String(value) : `'${value}'`

function statementOf(batch: Batch, ids: number[]): string {
  const fields = Object.keys(batch.rows[0]!).filter((field) => field !== 'id')
  const tuples = batch.rows
    .map((row, i) => `(${[String(ids[i]), ...fields.map((field) => literal(field, row[field]!))].join(', ')})`)
    .join(', ')
  if (batch.kind === 'create') return `INSERT INTO ${batch.table} (id, ${fields.join(', ')}) VALUES ${tuples}`
  if (batch.kind === 'delete') return `DELETE FROM ${batch.table} WHERE id IN (${ids.join(', ')})`
  return `UPDATE ${batch.table} t SET ${fields.map((field) => `${field} = v.${field}`).join(', ')} FROM (VALUES ${tuples}) v (id, ${fields.join(', ')}) WHERE t.id = v.id`
}

async function runPostgres(sql: string): Promise<string | null> {
  try {
    await postgres.exec(`BEGIN; ${sql}; COMMIT;`)
    return null
  } catch (error) {
    await postgres.exec('ROLLBACK')
    const { code, message } = error as { code: string; message: string }
    if (code === '54001') return 'depth'
    return message.startsWith('refuse:') ? message.slice('refuse:'.length) : (CODES[code] ?? `${code} ${message}`)
  }
}

const reasons = (error: ErrorReport): string[] =>
  (error.refusals ?? [error]).map((each) =>
    each.code === 'hook/refused' ? each.hook! : each.code === 'check/linked' ? 'check/link' : each.code,
  )

const counts = { programs: 0, batches: 0, refused: 0, conflict: 0, depth: 0, 'cascade order': 0 }

test(`${RUNS} random programs end in the same tables and the same refusals`, { timeout: 60_000 + RUNS * 1000 }, async () => {
  await fc.assert(
    fc.asyncProperty(programs, async (program) => {
      counts.programs++
      const world = new World(sourceOf(program))
      await postgres.exec(schemaOf(program))
      for (const batch of program.batches) {
        const there = new Set(world.all(batch.table).map((row) => row['id'] as number))
        const rows = batch.kind === 'create' ? batch.rows : batch.rows.filter((row) => there.has(row['id'] as number))
        if (rows.length === 0) continue
        counts.batches++
        const inputs = rows.map((values): InputRow => ({
          table: batch.table,
          values,
          ...(batch.kind === 'delete' ? { remove: true } : {}),
        }))
        const outcome = world.try(inputs, { record: false })
        if (outcome.error?.code === 'effects/conflict') {
          counts.conflict++
          continue
        }
        const ids = rows.map((row, i) => (row['id'] as number | undefined) ?? outcome.records[i]?.id ?? 1_000_000 + i)
        const theirs = await runPostgres(statementOf({ ...batch, rows }, ids))
        if (outcome.error?.code === 'budget/spent' || theirs === 'depth') {
          counts.depth++
          break
        }
        const state = JSON.stringify({ program, batch, ours: outcome.error, theirs })
        expect(outcome.error === null, state).toBe(theirs === null)
        if (outcome.error && theirs) {
          counts.refused++
          if (batch.kind === 'delete' && !reasons(outcome.error).includes(theirs)) counts['cascade order']++
          else expect(reasons(outcome.error), state).toContain(theirs)
        }
        for (const table of ['parent', 'child'] as const) {
          const found = await postgres.query(`SELECT id, ${FIELDS[table].join(', ')} FROM ${table} ORDER BY id`)
          expect(world.all(table), JSON.stringify({ program, batch })).toEqual(found.rows)
        }
      }
      world.store.close()
    }),
    { numRuns: RUNS, seed: Number(process.env['ORACLE_SEED'] ?? 20260214), endOnFailure: false },
  )
  console.log('against PostgreSQL:', JSON.stringify(counts))
  expect(counts.refused).toBeGreaterThan(RUNS / 5)
  expect(counts.conflict + counts.depth).toBeLessThan(counts.batches / 8)
})

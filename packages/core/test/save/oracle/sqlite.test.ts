import Database from 'better-sqlite3'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { hook, integer, link, text, World } from '../../world.js'

/**
 * The save path against SQLite's own AFTER triggers, for the part they can express: fill when empty, copy through a
 * link, derive, push to children, roll up, refuse. An AFTER trigger cannot change the row on its way in, so it updates
 * the row it was called for; with one such trigger the end is the same. Refusals are RAISE(ABORT).
 */
const RUNS = Number(process.env['ORACLE_RUNS'] ?? 300)

const HOOKS = {
  a_fill: hook(
    `{ table: 'child', moment: 'before-save', only: row => row.now.note === null, each(row) { row.now.note = 'new' } }`,
  ),
  b_copy: hook(
    `{ table: 'child', moment: 'before-save', load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['rate']), each(row, parents) { row.now.rate ??= parents.get(row.now.parent)?.rate ?? null } }`,
  ),
  c_derive: hook(
    `{ table: 'child', moment: 'before-save', each(row) { const { qty, rate } = row.now; row.now.amount = qty === null || rate === null ? null : qty * rate } }`,
  ),
  d_refuse: hook(
    `{ table: 'child', moment: 'before-save', each(row) { if ((row.now.amount ?? 0) > 30) row.refuse('amount', 'too much') } }`,
  ),
  e_rollup: hook(`{ table: 'child', moment: 'after-save', on: ['create', 'update', 'delete'], finish({ rows, store, update }) {
    for (const [id, sum] of store.rollup('child', 'parent', rows.flatMap(r => [r.now?.parent, r.was?.parent]), { sum: ['amount'] })) update('parent', id, { total: sum.sum.amount }) } }`),
  f_push:
    hook(`{ table: 'parent', moment: 'after-save', on: ['update'], watch: ['status'], load: ({ rows, store }) => store.children('child', 'parent', rows.map(r => r.id), []),
    each(row, children, { update }) { for (const child of children.get(row.id) ?? []) update('child', child.id, { status: row.now.status }) } }`),
}

const OWN = `UPDATE child SET note = coalesce(NEW.note, 'new'), rate = coalesce(NEW.rate, (SELECT rate FROM parent WHERE id = NEW.parent)),
    amount = NEW.qty * coalesce(NEW.rate, (SELECT rate FROM parent WHERE id = NEW.parent)) WHERE id = NEW.id;
  SELECT RAISE(ABORT, 'refuse:d_refuse') FROM child WHERE id = NEW.id AND amount > 30;`
const total = (row: 'NEW' | 'OLD') =>
  `UPDATE parent SET total = (SELECT coalesce(sum(amount), 0) FROM child WHERE parent = ${row}.parent) WHERE id = ${row}.parent;`
const TRIGGERS = `
  CREATE TRIGGER own_insert AFTER INSERT ON child BEGIN ${OWN} ${total('NEW')} END;
  CREATE TRIGGER own_update AFTER UPDATE OF parent, qty, rate, note, status ON child BEGIN ${OWN} ${total('NEW')} ${total('OLD')} END;
  CREATE TRIGGER gone AFTER DELETE ON child BEGIN ${total('OLD')} END;
  CREATE TRIGGER push AFTER UPDATE OF status ON parent WHEN OLD.status IS NOT NEW.status BEGIN UPDATE child SET status = NEW.status WHERE parent = NEW.id AND status IS NOT NEW.status; END;`

const small = fc.option(fc.integer({ min: 0, max: 9 }), { nil: null, freq: 5 })
const status = fc.option(fc.constantFrom('a', 'b'), { nil: null })
const operation = fc.oneof(
  fc.record({
    kind: fc.constant('create' as const),
    parent: fc.option(fc.integer({ min: 1, max: 3 }), { nil: null }),
    qty: small,
    rate: small,
    note: fc.option(fc.constant('typed'), { nil: null }),
  }),
  fc.record({
    kind: fc.constant('update' as const),
    id: fc.integer({ min: 1, max: 8 }),
    parent: fc.option(fc.integer({ min: 1, max: 3 }), { nil: null }),
    qty: small,
  }),
  fc.record({ kind: fc.constant('parent' as const), id: fc.integer({ min: 1, max: 3 }), rate: small, status }),
  fc.record({ kind: fc.constant('delete' as const), id: fc.integer({ min: 1, max: 8 }) }),
)

test(`${RUNS} random runs of saves end in the same tables`, { timeout: 60_000 + RUNS * 500 }, () => {
  let refused = 0
  fc.assert(
    fc.property(fc.array(operation, { minLength: 3, maxLength: 12 }), (operations) => {
      const world = new World({
        tables: {
          parent: { fields: { rate: integer, status: text, total: integer } },
          child: { fields: { parent: link('parent'), qty: integer, rate: integer, amount: integer, note: text, status: text } },
        },
        hooks: HOOKS,
      })
      const theirs = new Database(':memory:')
      theirs.exec(`CREATE TABLE parent (id INTEGER PRIMARY KEY, rate INT, status TEXT, total INT);
        CREATE TABLE child (id INTEGER PRIMARY KEY, parent INT REFERENCES parent, qty INT, rate INT, amount INT, note TEXT, status TEXT); ${TRIGGERS}`)
      world.put('parent', { rate: 2 }, { rate: 3 }, {})
      theirs.exec('INSERT INTO parent (id, rate) VALUES (1, 2), (2, 3), (3, NULL)')
      for (const { kind, ...values } of operations) {
        const table = kind === 'parent' ? 'parent' : 'child'
        const id = (values as { id?: number }).id
        if (id !== undefined && !world.all(table).some((row) => row['id'] === id)) continue
        const outcome = world.try([{ table, values, ...(kind === 'delete' ? { remove: true } : {}) }])
        const { id: _, ...fields } = values as Record<string, unknown>
        const names = Object.keys(fields)
        const sql =
          kind === 'create'
            ? `INSERT INTO child (id, ${names.join(', ')}) VALUES (${outcome.records[0]?.id ?? 999}, ${names.map(() => '?').join(', ')})`
            : kind === 'delete'
              ? `DELETE FROM child WHERE id = ${id}`
              : `UPDATE ${table} SET ${names.map((name) => `${name} = ?`).join(', ')} WHERE id = ${id}`
        let message: string | null = null
        try {
          theirs.prepare(sql).run(...names.map((name) => fields[name]))
        } catch (error) {
          message = (error as Error).message
        }
        expect(outcome.error?.hook ?? null).toBe(message?.replace('refuse:', '') ?? null)
        if (message) refused++
        expect(world.all('child')).toEqual(
          theirs.prepare('SELECT id, parent, qty, rate, amount, note, status FROM child ORDER BY id').all(),
        )
        expect(world.all('parent')).toEqual(theirs.prepare('SELECT * FROM parent ORDER BY id').all())
      }
      theirs.close()
      world.store.close()
    }),
    { numRuns: RUNS, seed: Number(process.env['ORACLE_SEED'] ?? 20260214) },
  )
  expect(refused).toBeGreaterThan(RUNS / 10)
})

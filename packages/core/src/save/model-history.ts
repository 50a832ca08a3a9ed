import type { RecordValues, Value } from '../model/types.js'
import type { Store } from '../store/database.js'

/**
 * A change of a table in the history of its records: fields that got another name, came, went, or hold a value of another type. With it the
 * patches of a record (RFC 6902) apply from its first to its last.
 */
export class ModelHistory {
  readonly #save: number
  readonly #sql = `INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) VALUES (?, ?, ?, 'model', 0, ?, ?)`

  /** Within the transaction of the change. @param renames old field name to new */
  constructor(
    private readonly store: Store,
    private readonly table: string,
    private readonly renames: Readonly<Record<string, string>>,
    user: string,
  ) {
    this.#save = store.run(`INSERT INTO ph_save (at, user, rows, spent) VALUES (?, ?, 0, '{}')`, new Date().toISOString(), user)
      .lastInsertRowid as number
  }

  note(before: RecordValues, after: RecordValues): void {
    const { patch, fields } = modelPatch(before, after, this.renames)
    if (patch.length === 0) return
    const cause = JSON.stringify(Object.fromEntries(fields.map((field) => [field, 'model'])))
    this.store.run(this.#sql, this.#save, this.table, before.id, cause, JSON.stringify(patch))
  }

  /** No record changed: no save is reported about. */
  close(): void {
    const rows = this.store.one('SELECT count(*) FROM ph_history WHERE save = ?', this.#save) as number
    if (rows === 0) this.store.run('DELETE FROM ph_save WHERE id = ?', this.#save)
    else this.store.run('UPDATE ph_save SET rows = ? WHERE id = ?', rows, this.#save)
  }
}

type Operation =
  { op: 'test' | 'replace' | 'add' | 'remove'; path: string; value?: Value } | { op: 'move'; from: string; path: string }

/** @returns the patch, and the fields that it speaks of, by their new names where they have one */
export function modelPatch(
  before: RecordValues,
  after: RecordValues,
  renames: Readonly<Record<string, string>>,
): { patch: Operation[]; fields: string[] } {
  const patch: Operation[] = []
  const fields: string[] = []
  const now: Record<string, Value> = { ...before }
  const set = (field: string, value: Value) => {
    if (now[field] === value) return
    patch.push({ op: 'test', path: `/${field}`, value: now[field]! }, { op: 'replace', path: `/${field}`, value })
    fields.push(field)
  }
  for (const [old, name] of Object.entries(renames)) {
    // Where names are swapped, the values go and come.
    if (!Object.hasOwn(now, old) || Object.hasOwn(before, name)) continue
    patch.push({ op: 'move', from: `/${old}`, path: `/${name}` })
    fields.push(name)
    now[name] = now[old]!
    delete now[old]
  }
  for (const field of Object.keys(now))
    if (!Object.hasOwn(after, field)) {
      patch.push({ op: 'test', path: `/${field}`, value: now[field]! }, { op: 'remove', path: `/${field}` })
      fields.push(field)
    }
  for (const [field, value] of Object.entries(after))
    if (Object.hasOwn(now, field)) set(field, value)
    else {
      patch.push({ op: 'add', path: `/${field}`, value })
      fields.push(field)
    }
  return { patch, fields: [...new Set(fields)] }
}

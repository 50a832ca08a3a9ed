import { report } from '../errors.js'
import { quote } from '../model/ddl.js'
import type { Field, Table } from '../model/types.js'
import type { EffectSink } from './effect-sink.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'

/** What happens to the links of deleted records: cleared or cascaded as a ripple, or the delete is refused at the end. */

function* linksTo(session: Session, target: string): Generator<{ table: Table; field: Field }> {
  for (const table of session.project.tables.values())
    for (const field of table.fields) if (field.link?.table === target) yield { table, field }
}

const childrenSql = (table: string, link: string) =>
  `SELECT "id", ${quote(link)} FROM ${quote(table)} WHERE ${quote(link)} IN (SELECT value FROM json_each(?)) ORDER BY "id"`

/** Asks for the ripples that deleted records cause by x-on-delete clear and cascade. */
export function followDeletes(session: Session, rows: readonly SaveRow[], sink: EffectSink): void {
  const gone = rows.filter((row) => row.event === 'delete')
  const [first] = gone
  if (!first) return
  const originOf = new Map(gone.map((row) => [row.id, row.origin]))
  const ids = JSON.stringify(gone.map((row) => row.id))
  for (const { table, field } of linksTo(session, first.shape.table.name)) {
    if (field.link!.onDelete === 'refuse') continue
    session.spending.time()
    const children = session.store.rows(childrenSql(table.name, field.name), ids) as [number, number][]
    if (children.length > 0) sink.takeApart(table.name)
    const moved = sink.updates.get(table.name)
    for (const [id, parent] of children) {
      // A hook asked for another parent.
      const values = moved?.get(id)?.values
      if (values && Object.hasOwn(values, field.name) && values[field.name] !== parent) continue
      const origin = originOf.get(parent)!
      if (field.link!.onDelete === 'cascade') sink.remove(table.name, id, null, origin)
      else sink.update(table.name, id, { [field.name]: null }, { hook: null, row: null }, origin)
    }
  }
}

/** At the end of a pass no record may link to one that went; checked then, so that a save may remove both in any order. */
export function checkDeletes(session: Session): void {
  for (const [name, gone] of session.touches.removed) {
    for (const { table, field } of linksTo(session, name)) {
      const children = session.store.rows(childrenSql(table.name, field.name), JSON.stringify([...gone.keys()])) as [
        number,
        number,
      ][]
      const byParent = new Map<number, number[]>()
      for (const [id, parent] of children) {
        const list = byParent.get(parent)
        if (list) list.push(id)
        else byParent.set(parent, [id])
      }
      session.spending.time()
      for (const [parent, ids] of byParent) {
        const listed = ids.slice(0, 5).join(', ') + (ids.length > 5 ? ` and ${ids.length - 5} more` : '')
        const refusal = report('check/linked', {
          table: name,
          id: parent,
          field: null,
          children: `${table.name} ${listed} (field ${field.name})`,
        })
        session.refusals.note(refusal, gone.get(parent)!.origin)
      }
    }
  }
}

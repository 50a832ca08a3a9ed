import { join } from 'node:path'
import { median } from './median.js'
import { fill, HISTORY, openPlain } from './sqlite-schema.js'
import { changedLots, CHECK_SQL, columnsOf, DISTRICTS, newLots, PARENTS, type Measured, type Phase } from './work.js'

/** SQLite's own triggers doing the same, and with history writing a JSON row for each change. */

const DERIVE = `UPDATE lot SET
    species = (SELECT species FROM collection WHERE id = NEW.collection),
    net_mass_g = NEW.gross_mass_g - NEW.tare_mass_g,
    seed_estimate = CAST(round((NEW.gross_mass_g - NEW.tare_mass_g) / (SELECT s.thousand_seed_mass_g FROM collection c JOIN species s ON s.id = c.species WHERE c.id = NEW.collection) * 1000) AS INTEGER)
    WHERE id = NEW.id;`
const TRIGGERS = `
  CREATE TRIGGER a_validate BEFORE INSERT ON lot WHEN NEW.tare_mass_g > NEW.gross_mass_g BEGIN SELECT RAISE(ABORT, 'more than gross'); END;
  CREATE TRIGGER a_validate_update BEFORE UPDATE ON lot WHEN NEW.tare_mass_g > NEW.gross_mass_g BEGIN SELECT RAISE(ABORT, 'more than gross'); END;
  CREATE TRIGGER b_create AFTER INSERT ON lot BEGIN UPDATE lot SET status = coalesce(NEW.status, 'drying') WHERE id = NEW.id; ${DERIVE} END;
  CREATE TRIGGER b_update AFTER UPDATE OF collection, gross_mass_g, tare_mass_g ON lot
    WHEN OLD.collection IS NOT NEW.collection OR OLD.gross_mass_g IS NOT NEW.gross_mass_g OR OLD.tare_mass_g IS NOT NEW.tare_mass_g BEGIN ${DERIVE} END;
  CREATE TRIGGER c_push AFTER UPDATE OF district ON site WHEN OLD.district IS NOT NEW.district BEGIN UPDATE collection SET district = NEW.district WHERE site = NEW.id; END;`

const object = (table: 'lot' | 'collection' | 'site', row: string) =>
  `json_object(${['id', ...columnsOf(table)].map((column) => `'${column}', ${row}.${column}`).join(', ')})`
/** The history of a change: from and to of the fields that the work can change, as the product keeps them. */
const changes = (fields: string[]) =>
  `'[' || ${fields.map((field) => `CASE WHEN OLD.${field} IS NOT NEW.${field} THEN json_object('op', 'test', 'path', '/${field}', 'value', OLD.${field}) || ',' || json_object('op', 'replace', 'path', '/${field}', 'value', NEW.${field}) ELSE '' END`).join(' || ')} || ']'`
const note = (table: string, event: string, patch: string) =>
  `INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) VALUES (1, '${table}', NEW.id, '${event}', 0, '{"by":"typed"}', ${patch});`
const HISTORY_TRIGGERS = `
  DROP TRIGGER b_create;
  CREATE TRIGGER b_create AFTER INSERT ON lot BEGIN UPDATE lot SET status = coalesce(NEW.status, 'drying') WHERE id = NEW.id; ${DERIVE}
    INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) SELECT 1, 'lot', NEW.id, 'create', 0, '{"by":"typed"}', json_array(json_object('op', 'replace', 'path', '', 'value', ${object('lot', 'l')})) FROM lot l WHERE l.id = NEW.id; END;
  DROP TRIGGER b_update;
  CREATE TRIGGER b_update AFTER UPDATE OF collection, gross_mass_g, tare_mass_g ON lot
    WHEN OLD.collection IS NOT NEW.collection OR OLD.gross_mass_g IS NOT NEW.gross_mass_g OR OLD.tare_mass_g IS NOT NEW.tare_mass_g BEGIN ${DERIVE}
    INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) SELECT 1, 'lot', NEW.id, 'update', 0, '{"by":"typed"}',
      ${changes(['gross_mass_g', 'net_mass_g', 'seed_estimate', 'species', 'collection', 'tare_mass_g']).replaceAll('NEW.', 'l.')} FROM lot l WHERE l.id = NEW.id; END;
  CREATE TRIGGER h_site AFTER UPDATE ON site BEGIN ${note('site', 'update', changes(['district', 'name']))} END;
  CREATE TRIGGER h_collection AFTER UPDATE ON collection BEGIN ${note('collection', 'update', changes(['district', 'number', 'site', 'species']))} END;`

export function triggers(folder: string, rows: number, history: boolean): Omit<Measured, 'peakMb'> {
  const db = openPlain(join(folder, 'triggers.db'))
  fill(db)
  db.exec(TRIGGERS)
  if (history) db.exec(HISTORY + HISTORY_TRIGGERS)
  const ms = {} as Record<Phase, number>
  const phase = (name: Phase, work: () => void) => {
    const started = performance.now()
    db.transaction(work)()
    ms[name] = performance.now() - started
  }
  const columns = columnsOf('lot')
  const lots = newLots(rows)
  const insert = db.prepare(`INSERT INTO lot (${columns.join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`)
  phase('create', () => lots.forEach((lot) => insert.run(columns.map((column) => lot[column] ?? null))))
  const changed = changedLots(rows)
  const update = db.prepare('UPDATE lot SET gross_mass_g = ? WHERE id = ?')
  phase('update', () => changed.forEach((lot) => update.run(lot['gross_mass_g'], lot.id)))
  const push = db.prepare('UPDATE site SET district = ? WHERE id = ?')
  const pushes = DISTRICTS.map((district) => {
    phase('push', () => {
      for (let id = 1; id <= PARENTS; id++) push.run(district, id)
    })
    return ms.push
  })
  ms.push = median(pushes)
  return { ms, sum: db.prepare(CHECK_SQL).pluck().get() as number }
}

import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import {
  changedLots,
  CHECK_SQL,
  columnsOf,
  masterData,
  newLots,
  PARENTS,
  pushedCollections,
  tables,
  type Measured,
  type Phase,
  type Row,
} from './work.js'

/** PostgreSQL (PGlite) with PL/pgSQL row triggers doing the same; rows go in with multi-row statements of 500. */

const SQL = { string: 'text', integer: 'int', number: 'double precision' } as const
const TRIGGERS = `
  CREATE FUNCTION derive() RETURNS trigger LANGUAGE plpgsql AS $$ DECLARE mass double precision; BEGIN
    IF TG_OP = 'INSERT' THEN NEW.status := coalesce(NEW.status, 'drying'); END IF;
    IF TG_OP = 'INSERT' OR OLD.collection IS DISTINCT FROM NEW.collection OR OLD.gross_mass_g IS DISTINCT FROM NEW.gross_mass_g OR OLD.tare_mass_g IS DISTINCT FROM NEW.tare_mass_g THEN
      SELECT c.species, s.thousand_seed_mass_g INTO NEW.species, mass FROM collection c JOIN species s ON s.id = c.species WHERE c.id = NEW.collection;
      NEW.net_mass_g := NEW.gross_mass_g - NEW.tare_mass_g;
      NEW.seed_estimate := floor(NEW.net_mass_g / mass * 1000 + 0.5);
    END IF;
    IF NEW.tare_mass_g > NEW.gross_mass_g THEN RAISE EXCEPTION 'more than gross'; END IF;
    RETURN NEW; END $$;
  CREATE TRIGGER derive BEFORE INSERT OR UPDATE ON lot FOR EACH ROW EXECUTE FUNCTION derive();
  CREATE FUNCTION push() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN UPDATE collection SET district = NEW.district WHERE site = NEW.id; RETURN NULL; END $$;
  CREATE TRIGGER push AFTER UPDATE ON site FOR EACH ROW WHEN (OLD.district IS DISTINCT FROM NEW.district) EXECUTE FUNCTION push();`

export async function postgres(folder: string, rows: number): Promise<Omit<Measured, 'peakMb'>> {
  const db = await PGlite.create(join(folder, 'pg'))
  for (const [name, { fields, links }] of Object.entries(tables)) {
    const link = links as Record<string, string>
    const columns = Object.entries(fields).map(
      ([field, type]) =>
        `${field} ${SQL[type]}${link[field] ? ` REFERENCES ${link[field]} (id) DEFERRABLE INITIALLY DEFERRED` : ''}`,
    )
    await db.exec(`CREATE TABLE ${name} (id serial PRIMARY KEY, ${columns.join(', ')})`)
    for (const field of Object.keys(link)) await db.exec(`CREATE INDEX ON ${name} (${field})`)
  }
  const literal = (value: string | number | null | undefined) =>
    value === null || value === undefined ? 'NULL' : typeof value === 'number' ? String(value) : `'${value}'`
  const insert = async (table: keyof typeof tables, all: Row[], columns: string[]) => {
    for (let at = 0; at < all.length; at += 500)
      await db.exec(
        `INSERT INTO ${table} (${columns.join(', ')}) VALUES ${all
          .slice(at, at + 500)
          .map((row) => `(${columns.map((column) => literal(row[column])).join(',')})`)
          .join(',')}`,
      )
  }
  const master = masterData()
  await insert('species', master.species, ['id', ...columnsOf('species')])
  await insert('site', master.site, ['id', ...columnsOf('site')])
  await insert('collection', [...master.collection, ...pushedCollections()], ['id', ...columnsOf('collection')])
  await db.exec(TRIGGERS)
  const ms = {} as Record<Phase, number>
  const phase = async (name: Phase, work: () => Promise<void>) => {
    const started = performance.now()
    await db.exec('BEGIN')
    await work()
    await db.exec('COMMIT')
    ms[name] = performance.now() - started
  }
  const lots = newLots(rows)
  await phase('create', () =>
    insert(
      'lot',
      lots,
      columnsOf('lot').filter((column) => column in lots[0]!),
    ),
  )
  const changed = changedLots(rows)
  await phase('update', async () => {
    for (let at = 0; at < changed.length; at += 500)
      await db.exec(
        `UPDATE lot SET gross_mass_g = v.g FROM (VALUES ${changed
          .slice(at, at + 500)
          .map((row) => `(${row.id}, ${row['gross_mass_g']}::double precision)`)
          .join(',')}) v (id, g) WHERE lot.id = v.id`,
      )
  })
  await phase('push', async () => {
    await db.exec(`UPDATE site SET district = 'Low Vale' WHERE id <= ${PARENTS}`)
  })
  const { rows: found } = await db.query<{ sum: string }>(CHECK_SQL)
  await db.close()
  return { ms, sum: Number(found[0]!.sum) }
}

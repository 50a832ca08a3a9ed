import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { Client } from 'pg'
import { median } from './median.js'
import { startCluster } from './postgres-cluster.js'
import {
  changedLots,
  CHECK_SQL,
  columnsOf,
  DISTRICTS,
  masterData,
  newLots,
  PARENTS,
  pushedCollections,
  tables,
  type Measured,
  type Phase,
  type Row,
} from './work.js'

/**
 * PostgreSQL with PL/pgSQL row triggers doing the same; rows go in with multi-row statements of 500. As PGlite, within the process, or as
 * Debian's PostgreSQL 15 in its own cluster, spoken to over its socket.
 */

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

const object = (table: 'lot' | 'site' | 'collection', row: string) =>
  `json_build_object(${['id', ...columnsOf(table)].map((column) => `'${column}', ${row}.${column}`).join(', ')})`
/** From and to of the fields that the work can change, as the product keeps them. */
const patch = (fields: string[]) =>
  `'[' || concat_ws(',', ${fields
    .map(
      (field) =>
        `CASE WHEN OLD.${field} IS DISTINCT FROM NEW.${field} THEN json_build_object('op', 'test', 'path', '/${field}', 'value', OLD.${field}) || ',' || json_build_object('op', 'replace', 'path', '/${field}', 'value', NEW.${field}) END`,
    )
    .join(', ')}) || ']'`
const noting = (table: 'lot' | 'site' | 'collection', fields: string[]) => `
  CREATE FUNCTION note_${table}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
    INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) VALUES (1, '${table}', NEW.id, lower(TG_OP), 0, '{"by":"typed"}',
      CASE TG_OP WHEN 'INSERT' THEN json_build_array(json_build_object('op', 'replace', 'path', '', 'value', ${object(table, 'NEW')}))::text ELSE ${patch(fields)} END);
    RETURN NULL; END $$;
  CREATE TRIGGER note AFTER INSERT OR UPDATE ON ${table} FOR EACH ROW EXECUTE FUNCTION note_${table}();`
const HISTORY = `
  CREATE TABLE ph_history (id serial PRIMARY KEY, save int NOT NULL, tbl text NOT NULL, record int NOT NULL, event text NOT NULL, depth int NOT NULL, cause text NOT NULL, patch text NOT NULL);
  CREATE INDEX ON ph_history (record, tbl);
  ${noting('lot', ['gross_mass_g', 'net_mass_g', 'seed_estimate', 'species', 'collection', 'tare_mass_g'])}
  ${noting('site', ['district', 'name'])}
  ${noting('collection', ['district', 'number', 'site', 'species'])}`

/** One connection. */
interface Connection {
  exec(sql: string): Promise<unknown>
  figure(sql: string): Promise<number>
  close(): Promise<void>
}

export async function pglite(folder: string, rows: number): Promise<Omit<Measured, 'peakMb'>> {
  const db = await PGlite.create(join(folder, 'pg'))
  return triggersOf(rows, false, {
    exec: (sql) => db.exec(sql),
    figure: async (sql) => Number((await db.query<{ sum: string }>(sql)).rows[0]!.sum),
    close: () => db.close(),
  })
}

/** @throws Error where Debian's package is not there */
export async function cluster(folder: string, rows: number, history: boolean): Promise<Omit<Measured, 'peakMb'>> {
  const { options, stop } = startCluster(folder)
  const client = new Client(options)
  try {
    await client.connect()
    return await triggersOf(rows, history, {
      exec: (sql) => client.query(sql),
      figure: async (sql) => Number((await client.query<{ sum: string }>(sql)).rows[0]!.sum),
      close: () => client.end(),
    })
  } finally {
    stop()
  }
}

async function triggersOf(rows: number, history: boolean, db: Connection): Promise<Omit<Measured, 'peakMb'>> {
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
  if (history) await db.exec(HISTORY)
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
  const pushes: number[] = []
  for (const district of DISTRICTS) {
    await phase('push', async () => {
      await db.exec(`UPDATE site SET district = '${district}' WHERE id <= ${PARENTS}`)
    })
    pushes.push(ms.push)
    // What its own background process would clear away, so no push finds what the one before left behind.
    await db.exec('VACUUM site')
    await db.exec('VACUUM collection')
  }
  ms.push = median(pushes)
  const sum = await db.figure(CHECK_SQL)
  await db.close()
  return { ms, sum }
}

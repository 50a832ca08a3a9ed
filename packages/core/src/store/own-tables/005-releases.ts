import type Database from 'better-sqlite3'
import type { Migration } from './types.js'

/** By plugin: its files. */
function pluginsOf(db: Database.Database): Map<string, Record<string, string>> {
  const files = db.prepare(`SELECT path, text FROM ph_file WHERE path LIKE 'plugins/%' ORDER BY path`).all() as {
    path: string
    text: string
  }[]
  const plugins = new Map<string, Record<string, string>>()
  for (const { path, text } of files) {
    const plugin = path.split('/')[1]!
    plugins.set(plugin, { ...plugins.get(plugin), [path]: text })
  }
  return plugins
}

function versionOf(text: string | undefined): string {
  try {
    const { version } = JSON.parse(text ?? '{}') as { version?: unknown }
    return typeof version === 'string' ? version : '0.0.0'
  } catch {
    return '0.0.0'
  }
}

export const releases: Migration = {
  number: 5,
  what: 'releases, what was done with them, switches, what hooks did by the hour, keys; what was live is the first release',
  apply: (db) => {
    db.exec(`
CREATE TABLE ph_release (
  id INTEGER PRIMARY KEY, plugin TEXT NOT NULL, version TEXT NOT NULL, note TEXT NOT NULL, at TEXT NOT NULL, user TEXT NOT NULL,
  files TEXT NOT NULL, gate TEXT NOT NULL, reason TEXT, coverage TEXT NOT NULL, audience TEXT, everyone_at TEXT, text_of INTEGER,
  UNIQUE (plugin, version)
) STRICT;
CREATE TABLE ph_release_log (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, user TEXT NOT NULL, plugin TEXT NOT NULL, version TEXT NOT NULL, hook TEXT,
  what TEXT NOT NULL, detail TEXT NOT NULL
) STRICT;
CREATE TABLE ph_hook_switch (hook TEXT PRIMARY KEY, state TEXT NOT NULL, at TEXT NOT NULL, user TEXT NOT NULL) STRICT;
CREATE TABLE ph_hook_hour (
  hour TEXT NOT NULL, hook TEXT NOT NULL, version TEXT NOT NULL, saves INTEGER NOT NULL, ran INTEGER NOT NULL,
  refused INTEGER NOT NULL, failed INTEGER NOT NULL, ms REAL NOT NULL, PRIMARY KEY (hour, hook, version)
) STRICT;
CREATE TABLE ph_key (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, hash TEXT NOT NULL UNIQUE, user TEXT NOT NULL, scope TEXT NOT NULL,
  made_at TEXT NOT NULL, made_by TEXT NOT NULL, used_at TEXT, revoked_at TEXT
) STRICT;
CREATE TABLE ph_answer (
  key INTEGER NOT NULL, name TEXT NOT NULL, request TEXT NOT NULL, answer TEXT NOT NULL, at TEXT NOT NULL, PRIMARY KEY (key, name)
) STRICT;
`)
    const at = new Date().toISOString()
    const add = db.prepare(
      `INSERT INTO ph_release (plugin, version, note, at, user, files, gate, coverage, everyone_at)
       VALUES (?, ?, 'What was live before releases were kept.', ?, 'owner', ?, '[]', '{}', ?)`,
    )
    for (const [plugin, files] of pluginsOf(db))
      add.run(plugin, versionOf(files[`plugins/${plugin}/plugin.json`]), at, JSON.stringify(files), at)
  },
}

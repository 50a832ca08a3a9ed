import { dropStaged } from '../../backfill/backfill-store.js'
import { writeKept } from '../../disk/kept-on-disk.js'
import { withChanges } from '../../model/files.js'
import { tablesInOrder } from '../../model/order.js'
import { checkRecords, recordFolders } from '../../model/record-checks.js'
import { parseProject } from '../../model/project.js'
import type { Files } from '@patient-hook/contract'
import { Store } from '../../store/database.js'
import { checkHealth } from '../../store/health.js'
import { loadRecords } from '../../store/records.js'
import type { Project } from '../../model/types.js'
import { filesOfPlugin } from '../../release/composite.js'
import { addRelease } from '../../release/release-store.js'
import type { OpenProject } from '../open-project.js'

/** Opening: the live records by the live engine, a project's files by the ones that try. */

export interface Opened {
  files: Files
  /** Tells this database from another at the same path. */
  database: string
}

/**
 * Opens the application's file. A new one is filled from `files`, in one transaction; without files, null says that they are needed. Which files it has
 * is reported as soon as they are loaded, so that an engine that tries can load them meanwhile.
 * @throws HookError store/… where it cannot be read, project/… where its files are wrong
 */
export function openDatabase(open: OpenProject, database: string, files: Files | null): Opened | null {
  open.close()
  const store = new Store(database)
  try {
    let texts = new Map(store.rows('SELECT path, text FROM ph_file') as [string, string][])
    checkHealth(store, null)
    if (texts.size === 0) {
      if (files === null) {
        store.close()
        return null
      }
      texts = new Map(Object.entries(files))
    }
    const project = parseProject(texts, open.runtimes.known)
    store.transaction(() => {
      const filled = store.one('SELECT count(*) FROM ph_file') !== 0
      if (!filled) {
        checkRecords(project, recordFolders(project, ['data/']))
        store.createTables(project)
        for (const [path, text] of texts) store.run('INSERT INTO ph_file (path, text) VALUES (?, ?)', path, text)
        releaseFirst(store, project)
        for (const table of tablesInOrder(project.tables)) loadRecords(store, table, project.data.get(table.name) ?? [])
      }
      return { value: undefined, keep: true }
    })
    checkHealth(store, project)
    dropStaged(store)
    open.own(store)
    open.runtimes.use(open.runtimes.make(texts, { project, ahead: 'probed' }))
    writeKept()
    open.tell('loaded', Object.fromEntries(texts))
    open.code = open.codeNow()
    const name = store.one(`SELECT value FROM ph_meta WHERE key = 'database'`) as string
    return { files: Object.fromEntries(texts), database: name }
  } catch (error) {
    store.close()
    open.disown()
    throw store.toHookError(error)
  }
}

/** What a new database begins with is live. */
function releaseFirst(store: Store, project: Project): void {
  for (const [plugin, { version }] of project.plugins)
    addRelease(store, {
      plugin,
      version,
      note: 'As the project was opened.',
      user: project.users[0]?.name ?? 'owner',
      files: filesOfPlugin(project.files, plugin),
      gate: [],
      reason: 'The gate was not looked at: the project was opened with it.',
      coverage: {},
      audience: null,
    })
}

/** Takes over files as they changed; null is a file that went. @param database the live records that are tried on, if any */
export function useFiles(open: OpenProject, changed: Record<string, string | null>, database: string | null): void {
  open.tryOn(database)
  open.runtimes.open(withChanges(open.runtimes.files, changed))
  // Code has no part in the records that are loaded.
  if (Object.keys(changed).some((path) => !path.startsWith('plugins/'))) open.forgetRecords()
}

/** Loads what the first sheet needs, so that a spare answers soon. No hook runs: one that hangs would end the spares, too. */
export function warmUp(open: OpenProject): void {
  const recorded = open.runtimes.with({}, 'probed')
  const [set] = recorded.project.fixtures.keys()
  if (set !== undefined) open.ground(recorded, set)
}

/** Was the call with this token carried out, although nobody heard the answer? */
export function wasKept(open: OpenProject, token: string): boolean {
  const store = open.live
  return (
    store.one('SELECT token FROM ph_save ORDER BY id DESC LIMIT 1') === token ||
    store.one(`SELECT value FROM ph_meta WHERE key = 'call'`) === token
  )
}

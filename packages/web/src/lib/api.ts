import {
  ROUTES,
  type AnswerOf,
  type ApiScope,
  type BackfillWish,
  type Asking,
  type CodeChange,
  type CsvMapping,
  type ErrorReport,
  type Files,
  type FixtureRow,
  type FunctionCall,
  type InputRow,
  type JobEvent,
  type KeepTest,
  type ListQuery,
  type MessageState,
  type ModelEdit,
  type ProjectEvent,
  type Route,
  type SheetRequest,
  type VersionPart,
} from '@patient-hook/contract'

/** The server's HTTP API, by the contract. An error carries the server's report: what happened, where, what to do. */

export class ApiError extends Error {
  constructor(readonly report: ErrorReport) {
    super(report.message)
  }
}

const unanswered = (): ApiError =>
  new ApiError({
    code: 'engine/stopped',
    message: 'The server is not responding',
    todo: 'Start it again with ./start, then reload this page.',
  })

function addressOf<R extends Route>(route: R, { params, query }: Asking<R>): string {
  const path = route.path.replace(/:(\w+)/g, (_, name: string) =>
    encodeURIComponent(String((params as Record<string, unknown>)[name])),
  )
  const parts = Object.entries((query ?? {}) as Record<string, unknown>).filter(
    ([, value]) => value !== undefined && value !== '',
  )
  const text = new URLSearchParams(parts.map(([key, value]) => [key, String(value)])).toString()
  return `/api${path}${text === '' ? '' : `?${text}`}`
}

async function ask<R extends Route>(route: R, asking: Asking<R> = {}, signal?: AbortSignal): Promise<AnswerOf<R>> {
  const { body } = asking
  let response: Response
  try {
    response = await fetch(addressOf(route, asking), {
      method: route.method,
      signal,
      headers: body === undefined ? {} : { 'content-type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error
    throw unanswered()
  }
  const answer = (await response.json()) as AnswerOf<R> & { error?: ErrorReport }
  if (!response.ok)
    throw new ApiError(answer.error ?? { code: 'engine/stopped', message: response.statusText, todo: 'Try again.' })
  return answer
}

/** Listens to a job until it ends. @returns stops listening; the job goes on */
function watchJob(id: string, listen: (event: JobEvent) => void): () => void {
  const source = new EventSource(addressOf(ROUTES.watchJob, { params: { id } }))
  source.onmessage = (message: MessageEvent<string>) => {
    const event = JSON.parse(message.data) as JobEvent
    // The browser would come back after the last word, too.
    if (event.event === 'end') source.close()
    listen(event)
  }
  return () => source.close()
}

/** Where records are read that something is tried on: a fixture set, or the live ones as they were before a save; else as they are. */
export interface TriedGround {
  fixtures?: string
  before?: number
}

interface ListOptions extends TriedGround {
  /** The id of a record: those that come after it. */
  after?: number
  /** The id of a record: those right before it. */
  upTo?: number
  offset?: number
  limit?: number
  orderBy?: string
  search?: string
  where?: string
}

/** What is saved for a rehearsal, and where. */
export interface Rehearsed extends TriedGround {
  rows: InputRow[]
  user: string
  clock?: string
  /** Keep the good rows when others are refused. */
  partial?: boolean
  drafts?: Files
}

export interface CsvFile {
  file: string
  text: string
}

export interface ReleaseWish {
  plugin: string
  /** Released together with it. */
  with: string[]
  part: VersionPart
  note: string
  user: string
  /** Null: everyone. */
  pilots: string[] | null
  /** Why, although the gate does not hold. */
  reason: string | null
  /** Names the text that was looked at. */
  stamp?: string
}

/** Listens to what changes of the project. @returns stops listening */
function watchProject(listen: (event: ProjectEvent) => void): () => void {
  const source = new EventSource(addressOf(ROUTES.projectEvents, {}))
  source.onmessage = (message: MessageEvent<string>) => listen(JSON.parse(message.data) as ProjectEvent)
  return () => source.close()
}

export const api = {
  watchProject,
  resolveConflict: (file: string, take: 'folder' | 'application') => ask(ROUTES.resolveConflict, { body: { file, take } }),
  project: () => ask(ROUTES.project),
  declarations: () => ask(ROUTES.declarations),
  code: (since?: string) => ask(ROUTES.code, { query: { since } }),
  file: (path: string) => ask(ROUTES.file, { query: { path } }),
  putFiles: (files: Record<string, string | null>, from?: Record<string, string | null>) =>
    ask(ROUTES.putFiles, { body: { files, ...(from ? { from } : {}) } }),
  planModel: (edit: ModelEdit, code: boolean, signal?: AbortSignal) => ask(ROUTES.planModel, { body: { ...edit, code } }, signal),
  changeModel: (edit: ModelEdit, accept: boolean, user: string) => ask(ROUTES.changeModel, { body: { ...edit, accept, user } }),
  inferTable: (name: string, file: string, text: string) => ask(ROUTES.inferTable, { body: { name, file, text } }),
  readSchema: (name: string, file: string, text: string) => ask(ROUTES.readSchema, { body: { name, file, text } }),
  runTests: (asked: { drafts: Files; only?: string[]; changed?: string[]; filter?: string }) =>
    ask(ROUTES.runTests, { body: asked }),
  knownProofs: (drafts: Files) => ask(ROUTES.knownProofs, { body: { drafts } }),
  proveFindings: (drafts: Files) => ask(ROUTES.proveFindings, { body: { drafts } }),
  proveCoverage: (drafts: Files) => ask(ROUTES.proveCoverage, { body: { drafts } }),
  proveBulk: (drafts: Files, hooks?: string[]) => ask(ROUTES.proveBulk, { body: { drafts, hooks } }),
  proveMutants: (drafts: Files, hooks?: string[]) => ask(ROUTES.proveMutants, { body: { drafts, hooks } }),
  readFixtures: (asked: { set: string; drafts: Files }) => ask(ROUTES.readFixtures, { body: asked }),
  writeFixtures: (asked: { set: string; table: string; rows: FixtureRow[]; drafts: Files }) =>
    ask(ROUTES.writeFixtures, { body: asked }),
  takeFixtures: (asked: { set: string; records: { table: string; ids: number[] }[]; drafts: Files }) =>
    ask(ROUTES.takeFixtures, { body: asked }),
  readFixtureCsv: (asked: { set: string; table: string; file: string; text: string; drafts: Files }) =>
    ask(ROUTES.readFixtureCsv, { body: asked }),
  fixtureCsv: (asked: { set: string; table: string; drafts: Files }) => ask(ROUTES.fixtureCsv, { body: asked }),
  makeFixtures: (asked: { set: string; table: string; count: number; seed: number; drafts: Files }) =>
    ask(ROUTES.makeFixtures, { body: asked }),
  planCode: (change: CodeChange, drafts: Files) => ask(ROUTES.planCode, { body: { change, drafts } }),
  keys: () => ask(ROUTES.keys),
  makeKey: (wish: { name: string; user: string; scope: ApiScope; madeBy: string }) => ask(ROUTES.makeKey, { body: wish }),
  revokeKey: (id: number) => ask(ROUTES.revokeKey, { params: { id } }),
  exportZip: (plugin: string | undefined) => ask(ROUTES.exportZip, { query: { plugin } }),
  planImport: (zip: { name: string; zip: string }) => ask(ROUTES.planImport, { body: zip }),
  importZip: (zip: { name: string; zip: string }) => ask(ROUTES.importZip, { body: zip }),
  tableCsv: (table: string, safe: boolean) => ask(ROUTES.tableCsv, { params: { table }, query: { safe: `${safe}` as const } }),
  readCsvColumns: (table: string, given: CsvFile, signal?: AbortSignal) =>
    ask(ROUTES.readCsvColumns, { params: { table }, body: given }, signal),
  importCsv: (table: string, given: CsvFile & { columns: CsvMapping; user: string; partial: boolean; dry: boolean }) =>
    ask(ROUTES.importCsv, { params: { table }, body: given }),
  releases: () => ask(ROUTES.releases),
  releaseFiles: (id: number) => ask(ROUTES.releaseFiles, { params: { id } }),
  pluginFiles: (plugin: string) => ask(ROUTES.pluginFiles, { params: { plugin } }),
  lookAtGate: (plugin: string, others: string[], part: VersionPart) =>
    ask(ROUTES.lookAtGate, { body: { plugin, with: others, part } }),
  release: (wish: ReleaseWish) => ask(ROUTES.release, { body: wish }),
  setAudience: (id: number, users: string[] | null, user: string) =>
    ask(ROUTES.setAudience, { params: { id }, body: { users, user } }),
  stepBack: (plugin: string, user: string, to?: number) => ask(ROUTES.stepBack, { body: { plugin, to, user } }),
  switchHook: (hook: string, state: 'on' | 'off' | null, user: string) =>
    ask(ROUTES.switchHook, { params: { hook }, body: { state, user } }),
  hookHours: (hook: string, hours: number) => ask(ROUTES.hookHours, { params: { hook }, query: { hours } }),
  jobs: () => ask(ROUTES.jobs),
  planBackfill: (wish: BackfillWish & { user: string; sample?: number }) => ask(ROUTES.planBackfill, { body: wish }),
  beginBackfill: (wish: BackfillWish & { user: string }) => ask(ROUTES.beginBackfill, { body: wish }),
  backfills: () => ask(ROUTES.backfills),
  backfill: (id: number) => ask(ROUTES.backfill, { params: { id } }),
  holdBackfill: (id: number, state: 'running' | 'paused' | 'cancelled') =>
    ask(ROUTES.holdBackfill, { params: { id }, body: { state } }),
  undoBackfill: (id: number, user: string) => ask(ROUTES.undoBackfill, { params: { id }, body: { user } }),
  saves: (asked: {
    offset: number
    limit: number
    only: 'all' | 'kept' | 'not-kept'
    user?: string
    table?: string
    hook?: string
  }) => ask(ROUTES.saves, { query: asked }),
  saveFigures: (hours: number) => ask(ROUTES.saveFigures, { query: { hours } }),
  saveStory: (id: number) => ask(ROUTES.saveStory, { params: { id } }),
  refusedStory: (id: number) => ask(ROUTES.refusedStory, { params: { id } }),
  outbox: (asked: { limit: number; only?: MessageState }) => ask(ROUTES.outbox, { query: asked }),
  retryMessage: (id: number) => ask(ROUTES.retryMessage, { params: { id } }),
  giveUpMessage: (id: number) => ask(ROUTES.giveUpMessage, { params: { id } }),
  postRoom: (limit: number) => ask(ROUTES.postRoom, { query: { limit } }),
  backups: () => ask(ROUTES.backups),
  makeBackup: () => ask(ROUTES.makeBackup),
  cancelJob: (id: string) => ask(ROUTES.cancelJob, { params: { id } }),
  watchJob,
  sheet: (request: SheetRequest & { fixtures?: string; drafts?: Files }, signal?: AbortSignal) =>
    ask(ROUTES.sheet, { body: request }, signal),
  /** What a save would do, with the releases that the user gets. */
  rehearse: (rows: InputRow[], user: string, signal?: AbortSignal) =>
    ask(ROUTES.rehearse, { body: { rows: rows as never, user, released: true } }, signal),
  run: (rehearsal: Rehearsed & { recorded?: boolean; focus?: number }, signal?: AbortSignal) =>
    ask(ROUTES.rehearse, { body: rehearsal as never }, signal),
  keepTest: (rehearsal: Rehearsed & KeepTest) => ask(ROUTES.keepTest, { body: rehearsal as never }),
  save: (rows: InputRow[], user: string) => ask(ROUTES.save, { body: { rows: rows as never, user } }),
  records: (table: string, options: ListOptions) => ask(ROUTES.records, { params: { table }, query: options }),
  search: (text: string, signal?: AbortSignal) => ask(ROUTES.search, { query: { text } }, signal),
  listViews: (table: string) => ask(ROUTES.listViews, { params: { table } }),
  keepListView: (table: string, view: string, query: ListQuery, user: string) =>
    ask(ROUTES.keepListView, { params: { table, view }, body: { query, user } }),
  removeListView: (table: string, view: string) => ask(ROUTES.removeListView, { params: { table, view } }),
  callFunction: (call: FunctionCall & { drafts?: Files }, signal?: AbortSignal) =>
    ask(ROUTES.callFunction, { body: call }, signal),
  keepFunctionTest: (call: FunctionCall & { drafts?: Files; test: string }) => ask(ROUTES.keepFunctionTest, { body: call }),
  givenSave: (save: number) => ask(ROUTES.givenSave, { params: { save } }),
  replay: (last: number, drafts: Files) => ask(ROUTES.replay, { body: { last, drafts } }),
  record: (table: string, id: number, ground: TriedGround = {}) => ask(ROUTES.record, { params: { table, id }, query: ground }),
  why: (table: string, id: number, field: string, until?: number) =>
    ask(ROUTES.why, { params: { table, id }, query: { field, until } }),
  choices: (table: string, text: string, ground: TriedGround = {}) =>
    ask(ROUTES.choices, { params: { table }, query: { text, ...ground } }),
}

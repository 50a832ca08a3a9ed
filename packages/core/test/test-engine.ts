import type {
  BackfillWish,
  Files,
  FunctionCall,
  InputRow,
  ModelEdit,
  ProjectInfo,
  SheetRequest,
  VersionPart,
} from '@patient-hook/contract'
import { CALLS } from '../src/engine/calls/index.js'
import type { ReleaseWish } from '../src/engine/calls/releasing.js'
import { leftIn } from '../src/backfill/backfill-store.js'
import { LiveTables } from '../src/engine/live-tables.js'
import { READS } from '../src/engine/reads.js'
import type { ListOptions } from '../src/engine/record-list.js'
import { OpenProject } from '../src/engine/open-project.js'
import type { SaveOptions } from '../src/save/types.js'

/** A live engine in the test's own process, on a database in memory. */
export class TestEngine {
  readonly #open = new OpenProject()

  open(files: Record<string, string>): ProjectInfo {
    CALLS.openDatabase(this.#open, ':memory:', files)
    return CALLS.projectInfo(this.#open)
  }
  info = () => CALLS.projectInfo(this.#open)
  program = () => this.#open.runtimes.saved.program
  declarations = () => CALLS.declarations(this.#open)
  files = () => Object.fromEntries(this.#open.runtimes.files)
  file = (path: string) => this.#open.runtimes.files.get(path)!
  putFiles = (files: Record<string, string | null>) => CALLS.putFiles(this.#open, files, 'test')
  planModel = (edit: ModelEdit, code = true) => CALLS.planModel(this.#open, edit, code)
  changeModel = (edit: ModelEdit, accept: boolean, user?: string) => CALLS.changeModel(this.#open, edit, accept, user, 'test')
  inferTable = (name: string, file: string, text: string) => CALLS.inferTable(this.#open, name, file, text)
  readSchema = (name: string, text: string) => CALLS.readSchema(this.#open, name, text)
  save = (rows: InputRow[], options: SaveOptions = {}) => CALLS.save(this.#open, rows, options)
  sheet = (ground: Parameters<typeof CALLS.sheet>[1], request: SheetRequest) => CALLS.sheet(this.#open, ground, request)
  callFunction = (call: FunctionCall, drafts?: Files) => CALLS.callFunction(this.#open, call, drafts)
  keepFunctionTest = (call: FunctionCall, test: string, drafts?: Files) => CALLS.keepFunctionTest(this.#open, call, test, drafts)
  list = (table: string, options: ListOptions) => READS.list(new LiveTables(this.#open.live), table, options)
  record = (table: string, id: number) => READS.record(new LiveTables(this.#open.live), table, id)
  candidate = (plugins: string[], part: VersionPart = 'patch') => CALLS.releaseCandidate(this.#open, plugins, part)
  /** @param wish `stamp` default: of the text as it stands */
  release = (wish: Partial<ReleaseWish> & Pick<ReleaseWish, 'plugins'>) => {
    const { plugins, part = 'patch' } = wish
    const stamp = wish.stamp ?? this.candidate(plugins, part).stamp
    const given = { part, note: '', user: 'ada', gate: [], reason: null, coverage: {}, audience: null, ...wish, stamp }
    return CALLS.release(this.#open, given, 'test').releases[0]!
  }
  releases = () => CALLS.releaseOverview(this.#open)
  setAudience = (id: number, audience: string[] | null) => CALLS.setAudience(this.#open, id, audience, 'ada', 'test')
  stepBack = (plugin: string, to: number | null = null) => CALLS.stepBackTo(this.#open, plugin, to, 'ada', 'test')
  switchHook = (hook: string, state: 'on' | 'off' | null) => CALLS.switchHook(this.#open, hook, state, 'ada', 'test')
  hookHours = (hook: string) => CALLS.hookHours(this.#open, hook, 24)
  beginBackfill = (wish: BackfillWish) => CALLS.beginBackfill(this.#open, wish, 'owner', 'test').id
  undoBackfill = (id: number) => CALLS.undoBackfill(this.#open, id, 'owner', 'test').id
  stepBackfill = (id: number, rows: number) => CALLS.stepBackfill(this.#open, id, rows)
  holdBackfill = (id: number, state: 'running' | 'paused' | 'cancelled') => CALLS.holdBackfill(this.#open, id, state)
  leftInBackfill = (id: number) => leftIn(this.#open.live, id, 100)
  close = () => this.#open.close()
}

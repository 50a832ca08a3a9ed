import { HookError, type ErrorPlace } from '../errors.js'
import type { Sandbox } from '../sandbox/sandbox.js'
import { CELL, numberOf, pulse, type Cells } from '../watch.js'
import type { Hook } from './hook.js'
import { rippleStory, type RippleLevel } from './ripple-story.js'
import type { SaveRow } from './row.js'
import type { SaveRecorder } from './save-recorder.js'

/** Who is at work in a save: which hook, in which of its parts, for which row, how deep in the ripples. */

export type Phase = 'only' | 'load' | 'each' | 'finish'

export class Stage {
  depth = 0
  /** Within a batch of a table that links to itself: 0 for the rows that link to no other of it, 1 for those that link to these, … */
  generation = 0
  /** The hooks that caused each level, and what was written at it: for the budget's error. */
  readonly chain: RippleLevel[] = []
  hook: Hook | null = null
  row: SaveRow | null = null
  /** Rows of the batch that the hook is run for. */
  rows: readonly SaveRow[] = []
  phase: Phase | null = null
  /** The hook runs for deleted rows, and so may look at records that went with them. */
  deleting = false
  readonly #cells: Cells
  /** Who was at work before the save: a test, say. */
  readonly #outer: number

  constructor(
    private readonly sandbox: Sandbox,
    readonly recorder: SaveRecorder | null,
  ) {
    this.#cells = sandbox.cells
    this.#outer = sandbox.cells[CELL.hook]!
    recorder?.begin()
  }

  /** For the error of a budget. */
  where(): Partial<ErrorPlace> & { chain: string } {
    const { hook, row } = this
    return {
      ...(hook ? { hook: hook.name, file: hook.file } : {}),
      ...(row ? { table: row.shape.table.name, row: row.row || undefined } : {}),
      chain: rippleStory(this.chain),
    }
  }

  /** Enters hook code: notes who is at work, for errors and for the thread that watches. */
  enter(hook: Hook, phase: Phase): void {
    this.hook = hook
    this.phase = phase
    this.row = null
    const cells = this.#cells
    cells[CELL.place] = 0
    cells[CELL.hook] = hook.number
    cells[CELL.row] = 0
    cells[CELL.id] = 0
    pulse()
    this.recorder?.enter(hook, phase, this.depth)
  }

  /** The row that the hook is called for now; that the row changes is the sign of life. */
  at(row: SaveRow): void {
    this.row = row
    const cells = this.#cells
    cells[CELL.row] = row.row
    cells[CELL.id] = row.id
    this.recorder?.row(row)
  }

  /** The row that is checked now. */
  mark(row: SaveRow): void {
    const cells = this.#cells
    cells[CELL.row] = row.row
    cells[CELL.id] = row.id
  }

  /** Rows of this table are worked on now. */
  atTable(table: string): void {
    this.#cells[CELL.table] = numberOf('table', table)
  }

  leave(): void {
    this.recorder?.leave()
    this.hook = null
    this.phase = null
    this.row = null
    this.#cells[CELL.hook] = this.#outer
  }

  /** What hook code threw, as an error that names hook, file, line, and row. */
  hookError(error: unknown): HookError {
    const { hook, row, phase } = this
    return this.sandbox.toHookError(error, {
      hook: hook?.name,
      file: hook?.file,
      line: hook && phase ? hook.parts.get(phase) : undefined,
      ...(row ? { table: row.shape.table.name, row: row.row || undefined, id: row.id } : {}),
    })
  }
}

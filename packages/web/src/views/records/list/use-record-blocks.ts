import type { RecordPage, RecordValues } from '@patient-hook/contract'
import { ref, shallowRef } from 'vue'
import { ApiError, api } from '../../../lib/api'

/** A list of any length, of which what is on the screen is read, in blocks: one after another by its neighbour, a far one by its place. */

export interface ListAsked {
  table: string
  orderBy: string
  search: string
  /** Conditions as JSON. */
  where: string
}
export interface ListedRecord {
  record: RecordValues
  labels: RecordPage['labels']
}

const BLOCK = 100
/** Blocks that are kept. */
const MOST = 40

export function useRecordBlocks(asked: () => ListAsked | null) {
  /** Null until the first answer. */
  const total = ref<number | null>(null)
  const error = shallowRef<ApiError | null>(null)
  const blocks = shallowRef<ReadonlyMap<number, RecordPage>>(new Map())
  /** Answers to what was asked before are nobody's. */
  let round = 0
  let going = new Map<number, Promise<void>>()
  let shown = { from: 0, to: 0 }

  /** Where a block begins: after the one before it, before the one behind it, or so many records down. */
  function placeOf(index: number): { after?: number; upTo?: number; offset?: number } {
    const id = (page: RecordPage | undefined, at: number) => page?.records.at(at)?.id as number | undefined
    const before = blocks.value.get(index - 1)
    const behind = blocks.value.get(index + 1)
    if (index > 0 && before?.records.length === BLOCK) return { after: id(before, -1)! }
    if (behind && behind.records.length > 0) return { upTo: id(behind, 0)! }
    return { offset: index * BLOCK }
  }

  async function read(index: number, place = placeOf(index)): Promise<void> {
    const wanted = asked()
    if (!wanted) return
    const { table, ...list } = wanted
    const mine = round
    let page: RecordPage
    try {
      page = await api.records(table, { ...list, ...place, limit: BLOCK })
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      if (mine !== round) return
      // The neighbour is gone: what is asked for is at its place still.
      if (thrown.report.code === 'save/not-found' && place.offset === undefined) return read(index, { offset: index * BLOCK })
      error.value = thrown
      return
    }
    if (mine !== round) return
    error.value = null
    const due = Math.max(0, Math.min(BLOCK, page.total - index * BLOCK))
    // Records came or went meanwhile: all blocks stand elsewhere.
    if (total.value !== null && (page.total !== total.value || page.records.length !== due)) return reload()
    total.value = page.total
    put(index, page)
  }
  function put(index: number, page: RecordPage): void {
    const next = new Map(blocks.value).set(index, page)
    const middle = (shown.from + shown.to) / 2 / BLOCK
    const far = [...next.keys()].sort((one, other) => Math.abs(one - middle) - Math.abs(other - middle)).slice(MOST)
    for (const each of far) next.delete(each)
    blocks.value = next
  }
  function want(index: number): Promise<void> {
    const known = going.get(index)
    if (known) return known
    const mine = going
    const work = read(index).finally(() => mine.delete(index))
    going.set(index, work)
    return work
  }

  /** @param from first row on the screen @param to the last */
  function see(from: number, to: number): void {
    shown = { from, to }
    for (let index = Math.floor(from / BLOCK); index <= Math.floor(to / BLOCK); index++)
      if (!blocks.value.has(index) && index * BLOCK < (total.value ?? 1)) void want(index)
  }

  /** Reads what is on the screen again. What was there stays on it until then. */
  async function reload(): Promise<void> {
    round++
    going = new Map()
    const first = Math.floor(shown.from / BLOCK)
    const wanted = asked()
    if (!wanted) return
    const mine = round
    const { table, ...list } = wanted
    try {
      let page = await api.records(table, { ...list, offset: first * BLOCK, limit: BLOCK })
      let at = first
      if (page.records.length === 0 && page.total > 0 && first > 0) {
        at = Math.floor((page.total - 1) / BLOCK)
        page = await api.records(table, { ...list, offset: at * BLOCK, limit: BLOCK })
      }
      if (mine !== round) return
      error.value = null
      total.value = page.total
      blocks.value = new Map([[at, page]])
      see(shown.from, shown.to)
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      if (mine === round) error.value = thrown
    }
  }
  /** Another list: from its first record. */
  function begin(): Promise<void> {
    shown = { from: 0, to: 0 }
    return reload()
  }
  /** @returns null as long as it is not read */
  function row(index: number): ListedRecord | null {
    const page = blocks.value.get(Math.floor(index / BLOCK))
    const record = page?.records[index % BLOCK]
    return record ? { record, labels: page!.labels } : null
  }
  return { total, error, row, see, reload, begin }
}
export type RecordBlocks = ReturnType<typeof useRecordBlocks>

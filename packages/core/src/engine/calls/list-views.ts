import type { ListQuery } from '@patient-hook/contract'
import { tableNamed } from '../../model/table-named.js'
import { keepView, removeView } from '../../store/list-views.js'
import type { OpenProject } from '../open-project.js'

/** Views of lists: kept by name, removed. */

/** @throws HookError project/unknown-table, hook/unknown-field, hook/bad-query */
export const keepListView = (open: OpenProject, table: string, name: string, query: ListQuery, user: string): void =>
  within(open, () => keepView(open.live, tableNamed(open.runtimes.saved.project.tables, table), name, query, user))

/** @throws HookError view/unknown */
export const removeListView = (open: OpenProject, table: string, name: string): void =>
  within(open, () => removeView(open.live, table, name))

const within = <T>(open: OpenProject, work: () => T): T => open.live.transaction(() => ({ value: work(), keep: true }))

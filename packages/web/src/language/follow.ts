import type { Table } from '@patient-hook/contract'
import { api } from '../lib/api'
import { oneByOne } from '../lib/one-by-one'
import { useDrafts } from '../stores/drafts'
import { language } from './client'

/** Keeps what the language worker knows of the project up to date: it receives the changes. */

/** What the one worker of the page knows. */
let known: { revision: string; tables: readonly Table[] } | null = null
const queue = oneByOne()

/** @param tables the same list as long as no table has changed */
export const follow = (tables: readonly Table[]): Promise<void> => queue.run(() => tell(tables))

async function tell(tables: readonly Table[]): Promise<void> {
  const model = known?.tables === tables ? null : modelOf(tables)
  const [code, change] = await Promise.all([api.code(known?.revision), model])
  const { revision, partial, files } = code
  await language('follow', { partial, files, drafts: { ...useDrafts().drafts }, model: change })
  known = { revision, tables }
}

async function modelOf(tables: readonly Table[]) {
  const { text } = await api.declarations()
  return { declarations: text, tables: JSON.parse(JSON.stringify(tables)) as Table[] }
}

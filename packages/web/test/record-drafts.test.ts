import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test } from 'vitest'
import { changedSince, draftKey, useRecordDrafts } from '../src/stores/record-drafts'

/** What is typed in forms of records, and not saved. */

beforeEach(() => setActivePinia(createPinia()))
const typed = (name: string) => ({ inputs: [{ table: 'lot', id: 1, values: { name }, expect: { name: 'before' } }] })

test('each record has its own, a new one, too', () => {
  const drafts = useRecordDrafts()
  drafts.keep(draftKey('lot', 1), typed('a'))
  drafts.keep(draftKey('lot', null), typed('new'))
  drafts.keep(draftKey('site', 1), typed('b'))
  drafts.drop(draftKey('site', 1))
  expect(['lot 1', 'lot new', 'site 1', 'constructor'].map(drafts.of)).toEqual([typed('a'), typed('new'), null, null])
})

test('the oldest go where there are very many', () => {
  const drafts = useRecordDrafts()
  for (let id = 1; id <= 250; id++) drafts.keep(draftKey('lot', id), typed(String(id)))
  expect([drafts.of('lot 1'), drafts.of('lot 250')]).toEqual([null, typed('250')])
})

test('what others have changed since is reported by field', () => {
  const [input] = typed('mine').inputs
  expect(changedSince(input, { name: 'before' })).toEqual([])
  expect(changedSince(input, { name: 'theirs' })).toEqual([{ field: 'name', value: 'theirs' }])
})

import { textRevision } from '@patient-hook/contract/text-revision'
import { nextTick } from 'vue'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { useDrafts } from '../../src/stores/drafts'
import { useProject } from '../../src/stores/project'
import { createTestingPinia } from './pinia'

/** Edits of files until they are saved: kept over a reload, and never saved over what somebody else has saved. */

const HOOK = 'plugins/vault/hooks/lot-bay.ts'
/** What the server has. */
let files: Record<string, string>

beforeEach(() => {
  localStorage.clear()
  createTestingPinia()
  files = { [HOOK]: 'one\ntwo\nthree\n' }
  vi.stubGlobal('fetch', (address: string, { method, body }: { method: string; body?: string }) => {
    const answer = (status: number, value: unknown) => Promise.resolve(new Response(JSON.stringify(value), { status }))
    if (method === 'GET')
      return answer(200, { text: files[new URL(address, 'http://app').searchParams.get('path') ?? HOOK] ?? files[HOOK] })
    const asked = JSON.parse(body!) as { files: Record<string, string>; from: Record<string, string | null> }
    for (const [file, revision] of Object.entries(asked.from))
      if ((files[file] === undefined ? null : textRevision(files[file])) !== revision)
        return answer(409, { error: { code: 'project/changed', message: 'changed', todo: '', file } })
    files = { ...files, ...asked.files }
    return answer(200, {})
  })
  vi.spyOn(useProject(), 'take').mockResolvedValue(undefined as never)
})
afterEach(() => vi.unstubAllGlobals())

test('an edit is a draft until it is saved; the same text again is none', async () => {
  const drafts = useDrafts()
  await drafts.open(HOOK)
  drafts.write(HOOK, 'edited')
  expect([drafts.hasEdits(HOOK), drafts.textOf(HOOK)]).toEqual([true, 'edited'])
  drafts.write(HOOK, 'one\ntwo\nthree\n')
  expect(drafts.hasEdits(HOOK)).toBe(false)
  drafts.write(HOOK, 'edited')
  await drafts.save([HOOK])
  expect([drafts.hasEdits(HOOK), files[HOOK]]).toEqual([false, 'edited'])
})

test('a reload keeps drafts', async () => {
  const drafts = useDrafts()
  await drafts.open(HOOK)
  drafts.write(HOOK, 'edited')
  await nextTick()
  createTestingPinia()
  expect(useDrafts().textOf(HOOK)).toBe('edited')
})

test('what somebody else saved is not overwritten; a merge has both, and saves then', async () => {
  const drafts = useDrafts()
  await drafts.open(HOOK)
  drafts.write(HOOK, 'ONE\ntwo\nthree\n')
  files[HOOK] = 'one\ntwo\nTHREE\n'
  await expect(drafts.save([HOOK])).rejects.toThrow('changed')
  expect([drafts.conflict, files[HOOK]]).toEqual([{ path: HOOK }, 'one\ntwo\nTHREE\n'])
  expect(drafts.textOf(HOOK)).toBe('ONE\ntwo\nthree\n')
  await drafts.resolve('merge')
  expect(drafts.textOf(HOOK)).toBe('ONE\ntwo\nTHREE\n')
  await drafts.save([HOOK])
  expect(files[HOOK]).toBe('ONE\ntwo\nTHREE\n')
})

test('files of a planned change name the texts that they replace', async () => {
  const drafts = useDrafts()
  await drafts.open(HOOK)
  const planned = { [HOOK]: textRevision(files[HOOK]!) }
  files[HOOK] = 'of somebody else'
  await expect(drafts.replace({ [HOOK]: 'renamed' }, planned)).rejects.toThrow('changed')
  expect(files[HOOK]).toBe('of somebody else')
  await drafts.replace({ [HOOK]: 'renamed' }, { [HOOK]: textRevision('of somebody else') })
  expect(files[HOOK]).toBe('renamed')
})

import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { readFolder } from '../../src/model/folder.js'
import { watchFolder } from '../../src/model/watch-folder.js'

/** What is written in a folder is reported, however soon one text comes after the other. */

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'watch-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

test('a text that is written as soon as the one before was reported is reported, too', { timeout: 60_000 }, async () => {
  const file = join(folder, 'project.json')
  const text = (number: number) => `{ "name": "n${number}" }`
  const last = 25
  writeFileSync(file, text(0))
  const end = new AbortController()
  const told: string[] = []
  await watchFolder(
    folder,
    new Map([...readFolder(folder), ['project.json', '']]),
    () => {},
    async (files) => {
      told.push(files.get('project.json')!)
      if (told.length > last) end.abort()
      else writeFileSync(file, text(told.length))
    },
    end.signal,
  )
  expect(told).toEqual(Array.from({ length: last + 1 }, (_, number) => text(number)))
})

import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
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

test('what git writes while it holds its lock is reported once, when the checkout is complete', { timeout: 60_000 }, async () => {
  const lock = join(folder, '.git', 'index.lock')
  mkdirSync(join(folder, '.git'))
  writeFileSync(join(folder, 'project.json'), '{}')
  const end = new AbortController()
  const states: string[] = []
  let step = 0
  await watchFolder(
    folder,
    new Map([...readFolder(folder), ['project.json', '']]),
    () => {},
    async (files) => {
      states.push(files.get('project.json')!)
      if (states.length === 2) return end.abort()
      // A checkout that takes longer than the time within which changes are one.
      writeFileSync(lock, '')
      const checkout = setInterval(() => {
        writeFileSync(join(folder, 'project.json'), `{ "name": "step${++step}" }`)
        if (step < 10) return
        clearInterval(checkout)
        rmSync(lock)
      }, 100)
    },
    end.signal,
  )
  expect(states).toEqual(['{}', '{ "name": "step10" }'])
})

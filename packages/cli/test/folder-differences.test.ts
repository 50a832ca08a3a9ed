import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { folderDifferences } from '../src/folder-differences.js'

/** An application that has records already says where its folder differs from what it continues with. */

let folder: string
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'differs-'))))
afterEach(() => rmSync(folder, { recursive: true, force: true }))
const write = (path: string, text: string) => {
  mkdirSync(dirname(join(folder, path)), { recursive: true })
  writeFileSync(join(folder, path), text)
}

test('nothing is reported about the same files, of records to begin with, and of a folder that is no project', () => {
  expect(folderDifferences(new Map(Object.entries({ 'project.json': '{}' })), folder, '.data')).toEqual([])
  write('project.json', '{}')
  write('data/lot.csv', 'id\n')
  expect(
    folderDifferences(new Map(Object.entries({ 'project.json': '{}', 'data/lot.csv': 'id\n1\n' })), folder, '.data'),
  ).toEqual([])
})

test('files that differ, that are new and that are gone are named, with what can be done', () => {
  write('project.json', '{ "name": "b" }')
  write('plugins/p/hooks/new.ts', '1')
  const lines = folderDifferences(
    new Map(Object.entries({ 'project.json': '{}', 'plugins/p/hooks/old.ts': '1' })),
    folder,
    '.data',
  )
  expect(lines[0]).toContain('plugins/p/hooks/new.ts, plugins/p/hooks/old.ts, project.json')
  expect(lines.join(' ')).toMatch(/--link.*import .* --data \.data.*--fresh/)
})

test('a folder that cannot be read is reported, and stops nothing', () => {
  write('project.json', '{}')
  write('plugins/p/hook/x.ts', '1')
  expect(folderDifferences(new Map(Object.entries({})), folder, '.data')[0]).toMatch(
    /cannot be compared: .*plugins\/p\/hook\/x\.ts/,
  )
})

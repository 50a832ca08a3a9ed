import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { readFolder, writeFolder } from '../../src/model/folder.js'
import { makeFolder } from '../../src/model/make-folder.js'
import { errorOf } from '../error-of.js'

/** A project folder: nothing outside of it is read or written, whatever its links lead to. */

let root: string
let folder: string
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'folder-'))
  folder = join(root, 'project')
  mkdirSync(join(folder, 'tables'), { recursive: true })
  writeFileSync(join(folder, 'project.json'), '{"name":"t"}')
  writeFileSync(join(root, 'secret.json'), '{"secret":true}')
})
afterEach(() => rmSync(root, { recursive: true, force: true }))

test('a link that leads out is an error, of a file as of a folder', () => {
  symlinkSync(join(root, 'secret.json'), join(folder, 'tables/item.json'))
  expect(errorOf(() => readFolder(folder))).toMatchObject({ code: 'project/outside', file: 'tables/item.json' })
  rmSync(join(folder, 'tables'), { recursive: true })
  symlinkSync(root, join(folder, 'tables'))
  expect(errorOf(() => readFolder(folder))).toMatchObject({ code: 'project/outside', file: 'tables' })
  expect(errorOf(() => writeFolder(folder, new Map([['tables/new.json', '{}']])))).toMatchObject({ code: 'project/outside' })
})

test('a link within the folder is followed; one to a folder above it does not go on for ever', () => {
  writeFileSync(join(folder, 'tables/item.json'), '{"type":"object"}')
  symlinkSync(join(folder, 'tables/item.json'), join(folder, 'tables/other.json'))
  symlinkSync(folder, join(folder, 'fixtures'))
  expect([...readFolder(folder).keys()]).toEqual(['project.json', 'tables/item.json', 'tables/other.json'])
})

test('a folder that cannot be made is an error at once', () => {
  expect(errorOf(() => makeFolder('/proc/x/y'))).toMatchObject({ code: 'project/unwritable', file: '/proc/x' })
  makeFolder(join(root, 'a/b/c'))
  makeFolder(join(root, 'a/b/c'))
})

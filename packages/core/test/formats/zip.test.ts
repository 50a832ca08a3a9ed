import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deflateRawSync } from 'node:zlib'
import { belongsToProject } from '@patient-hook/contract/paths'
import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { HookError } from '../../src/errors.js'
import { readZip, writeZip } from '../../src/formats/zip.js'

/** Zips, held against Info-ZIP's zip and unzip of Debian, which we did not write. */

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'zip-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))
const read = (bytes: Buffer) => readZip('x.zip', bytes, belongsToProject)
const messageOf = async (bytes: Buffer): Promise<string> => {
  try {
    await read(bytes)
  } catch (error) {
    expect((error as HookError).code).toBe('zip/bad')
    return (error as HookError).message
  }
  return 'read'
}

test('whatever the texts: back byte for byte, and the same zip each time', async () => {
  const path = fc.stringMatching(/^[a-z]{1,8}$/).map((name) => `plugins/p/lib/${name}.ts`)
  await fc.assert(
    fc.asyncProperty(fc.dictionary(path, fc.string({ unit: 'binary', maxLength: 300 })), async (texts) => {
      const files = new Map(Object.entries(texts))
      const zip = await writeZip(files)
      expect(new Map([...(await read(zip))].sort())).toEqual(new Map([...files].sort()))
      expect((await writeZip(new Map([...files].reverse()))).equals(zip)).toBe(true)
    }),
    { numRuns: 50 },
  )
})

test('unzip of Debian takes it out, and zip of Debian makes one that is read', async () => {
  const files = new Map([
    ['project.json', '{ "title": "Größe ✓" }\n'],
    ['plugins/p/hooks/a.ts', 'export {}\n'.repeat(500)],
  ])
  writeFileSync(join(folder, 'ours.zip'), await writeZip(files))
  execFileSync('unzip', ['-q', 'ours.zip', '-d', 'out'], { cwd: folder })
  for (const [path, text] of files) expect(readFileSync(join(folder, 'out', path), 'utf8')).toBe(text)
  execFileSync('zip', ['-q', '-r', '../theirs.zip', '.'], { cwd: join(folder, 'out') })
  expect(new Map([...(await read(readFileSync(join(folder, 'theirs.zip'))))].sort())).toEqual(new Map([...files].sort()))
})

/** A zip with one entry, written by hand (PKWARE APPNOTE 6.3, 4.3.7 and 4.3.12, from memory), so it can say what is not true. */
function forged(name: string, body: Buffer, says: { size?: number; attributes?: number; flags?: number } = {}): Buffer {
  const packed = deflateRawSync(body)
  const { size = body.length, attributes = 0, flags = 0x800 } = says
  const path = Buffer.from(name)
  const local = Buffer.alloc(30)
  local.writeUInt32LE(0x04034b50, 0)
  local.writeUInt16LE(20, 4)
  local.writeUInt16LE(flags, 6)
  local.writeUInt16LE(8, 8)
  local.writeUInt32LE(packed.length, 18)
  local.writeUInt32LE(size, 22)
  local.writeUInt16LE(path.length, 26)
  const central = Buffer.alloc(46)
  central.writeUInt32LE(0x02014b50, 0)
  central.writeUInt16LE(0x0314, 4)
  central.writeUInt16LE(20, 6)
  central.writeUInt16LE(flags, 8)
  central.writeUInt16LE(8, 10)
  central.writeUInt32LE(packed.length, 20)
  central.writeUInt32LE(size, 24)
  central.writeUInt16LE(path.length, 28)
  central.writeUInt32LE(attributes >>> 0, 38)
  const end = Buffer.alloc(22)
  end.writeUInt32LE(0x06054b50, 0)
  end.writeUInt16LE(1, 8)
  end.writeUInt16LE(1, 10)
  end.writeUInt32LE(central.length + path.length, 12)
  end.writeUInt32LE(local.length + path.length + packed.length, 16)
  return Buffer.concat([local, path, packed, central, path, end])
}
const text = Buffer.from('x')

describe('what a zip should not have', () => {
  test('the forged one is a zip, but for what it says', async () => {
    expect(await read(forged('plugins/p/lib/a.ts', text))).toEqual(new Map([['plugins/p/lib/a.ts', 'x']]))
  })
  test.each([
    ['../outside.ts', /invalid relative path/],
    ['/etc/passwd', /absolute path/],
    ['plugins/p/lib/../../../x.ts', /invalid relative path/],
    ['plugins\\p\\lib\\x.ts', /invalid characters/],
    ['C:/x.ts', /absolute path/],
    ['node_modules/x/index.js', /is no file of a project/],
    ['plugins/p/lib/a.sh', /is no file of a project/],
  ])('a path such as %s', async (path, message) => {
    expect(await messageOf(forged(path, text))).toMatch(message)
  })
  test('a link', async () => {
    symlinkSync('/etc/passwd', join(folder, 'project.json'))
    execFileSync('zip', ['-q', '-y', 'l.zip', 'project.json'], { cwd: folder })
    expect(await messageOf(readFileSync(join(folder, 'l.zip')))).toMatch(/project\.json is a link/)
  })
  test('a bomb: more than is taken, by what it says and by what it does not say', async () => {
    const zeros = Buffer.alloc(40 * 1024 * 1024)
    expect(await messageOf(forged('plugins/p/lib/a.ts', zeros))).toMatch(/has 41943040 bytes unpacked/)
    expect(await messageOf(forged('plugins/p/lib/a.ts', zeros, { size: 10 }))).toMatch(/too many bytes/)
  })
  test('an encrypted file, a text that is no UTF-8, and no zip at all', async () => {
    expect(await messageOf(forged('plugins/p/lib/a.ts', text, { flags: 0x801 }))).toMatch(/is encrypted/)
    expect(await messageOf(forged('plugins/p/lib/a.ts', Buffer.from([0xff, 0xfe, 0x00])))).toMatch(/a\.ts: /)
    expect(await messageOf(Buffer.from('no zip'))).toMatch(/cannot be opened/)
  })
})

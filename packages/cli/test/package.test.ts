import { spawn, spawnSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { VERSION } from '@patient-hook/contract/version'

/** The package as a team gets it: packed, installed from the tarball into an empty folder, and used there. */

const root = join(import.meta.dirname, '../../..')
let base: string
const run = (cwd: string, command: string, ...args: string[]) =>
  spawnSync(command, args, { cwd, encoding: 'utf8', env: { ...process.env, CI: '' }, timeout: 240_000 })
const hook = (...args: string[]) => run(base, join(base, 'node_modules/.bin/patient-hook'), ...args)

beforeAll(() => {
  base = mkdtempSync(join(tmpdir(), 'package-'))
  const workspace = join(base, 'workspace')
  // A copy of what is packed, so that packing changes nothing here.
  for (const part of ['LICENSE', 'CHANGELOG.md', 'package.json', 'scripts/stage-package.mjs', 'packages/patient-hook'])
    cpSync(join(root, part), join(workspace, part), { recursive: true })
  for (const name of readdirSync(join(root, 'packages')).filter((each) => each !== 'patient-hook'))
    symlinkSync(join(root, 'packages', name), join(workspace, 'packages', name))
  const packed = run(join(workspace, 'packages/patient-hook'), 'npm', 'pack', '--pack-destination', base)
  expect(packed.status, packed.stderr).toBe(0)
  writeFileSync(join(base, 'package.json'), '{ "name": "empty", "private": true }')
  // Without its script the driver is not compiled, which takes minutes: the one of this repository has the same version.
  const tarball = `./patient-hook-${VERSION}.tgz`
  const installed = run(base, 'npm', 'install', tarball, '--ignore-scripts', '--no-audit', '--no-fund', '--prefer-offline')
  expect(installed.status, installed.stderr).toBe(0)
  const driver = dirname(createRequire(join(root, 'packages/core/package.json')).resolve('better-sqlite3/package.json'))
  const versionIn = (folder: string) =>
    (JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as { version: string }).version
  const copy = join(base, 'node_modules/better-sqlite3')
  expect(versionIn(copy)).toBe(versionIn(driver))
  mkdirSync(join(copy, 'build'), { recursive: true })
  cpSync(join(driver, 'build/Release'), join(copy, 'build/Release'), { recursive: true })
}, 600_000)
afterAll(() => rmSync(base, { recursive: true, force: true }))

test('holds what runs and nothing else, in less than 12 MB', () => {
  const tarball = join(base, `patient-hook-${VERSION}.tgz`)
  expect(statSync(tarball).size).toBeLessThan(12_000_000)
  const files = run(base, 'tar', 'tzf', tarball).stdout.trim().split('\n')
  expect(files).toEqual(
    expect.arrayContaining(['package/README.md', 'package/LICENSE', 'package/CHANGELOG.md', 'package/bin/patient-hook.js']),
  )
  expect(files.filter((file) => /\.(map|tsbuildinfo|vue)$|\.test\.|\/test\/|\/src\//.test(file))).toEqual([])
  const { version, dependencies } = JSON.parse(readFileSync(join(base, 'node_modules/patient-hook/package.json'), 'utf8')) as {
    version: string
    dependencies: Record<string, string>
  }
  expect(version).toBe(VERSION)
  expect(Object.keys(dependencies)).not.toContain('vuetify')
  // Packing leaves its folder as it was.
  const own = readFileSync(join(base, 'workspace/packages/patient-hook/package.json'), 'utf8')
  expect(own).toBe(readFileSync(join(root, 'packages/patient-hook/package.json'), 'utf8'))
})

test('creates, checks and tests a project', () => {
  expect(hook('--version').stdout).toBe(`${VERSION}\n`)
  expect(hook('init', 'shop')).toMatchObject({ status: 0, stdout: expect.stringContaining('wrote package.json') })
  expect(hook('check', 'shop')).toMatchObject({ status: 0, stdout: '1 table, 1 hook: all is well\n' })
  expect(hook('test', 'shop').stdout).toMatch(/3 passed, 0 failed/)
})

test('serves the project with its interface', async () => {
  const server = spawn(join(base, 'node_modules/.bin/patient-hook'), ['serve', 'shop', '--data', 'data', '--port', '0'], {
    cwd: base,
  })
  try {
    const link = await new Promise<string>((done, fail) => {
      let output = ''
      server.stdout.setEncoding('utf8').on('data', (part: string) => {
        output += part
        const [found] = /http:\S+\/enter\?token=\S+/.exec(output) ?? []
        if (found) done(found)
      })
      server.once('exit', () => fail(new Error(`the server ended: ${output}`)))
    })
    const entered = await fetch(link, { redirect: 'manual' })
    const headers = { cookie: entered.headers.get('set-cookie')!.split(';')[0]! }
    const page = await (await fetch(new URL('/overview', link), { headers })).text()
    const [, script] = /<script type="module"[^>]* src="([^"]+)"/.exec(page) ?? []
    expect((await fetch(new URL(script!, link), { headers })).status).toBe(200)
    const saved = await fetch(new URL('/api/saves', link), {
      method: 'POST',
      headers: { ...headers, 'content-type': 'application/json' },
      body: JSON.stringify({ rows: [{ table: 'item', values: { name: 'twine', quantity: 3, price: 2 } }], user: 'owner' }),
    })
    expect([saved.status, await saved.text()]).toEqual([201, expect.stringContaining('"total":6')])
  } finally {
    const ended = new Promise((done) => server.once('exit', done))
    server.kill('SIGTERM')
    await ended
  }
})

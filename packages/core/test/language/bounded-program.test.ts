import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { tmpdir } from 'node:os'
import { fileURLToPath } from 'node:url'
import { describe, expect, test } from 'vitest'
import { runBounded } from '../../src/language/bounded-program.js'

const SOURCE = fileURLToPath(new URL('../../dist/language/bounded-program.js', import.meta.url))
const bounds = { cwd: tmpdir(), env: process.env, seconds: 60, memoryMb: 4096, maxBuffer: 1e6 }
const run = (program: string, words: string[], more: Partial<typeof bounds> = {}) =>
  new Promise<{ error: { code?: unknown; signal?: unknown } | null; output: string; told: string }>((done) =>
    runBounded(program, words, { ...bounds, ...more }, (error, output, told) => done({ error, output, told })),
  )
const isAlive = (pid: number) => {
  try {
    return process.kill(pid, 0)
  } catch {
    return false
  }
}

describe.skipIf(process.platform === 'win32')('a program with bounds', () => {
  test('says what it says, with its exit code', async () => {
    expect(await run('/bin/sh', ['-c', 'echo out; echo err >&2; exit 3'])).toMatchObject({
      error: { code: 3 },
      output: 'out\n',
      told: 'err\n',
    })
    expect(await run('/bin/echo', ["it's", '$HOME', 'a b'])).toMatchObject({ error: null, output: "it's $HOME a b\n" })
  })

  test('is stopped at its deadline', async () => {
    expect((await run('/bin/sleep', ['600'], { seconds: 1 })).error).toMatchObject({ signal: 'SIGKILL' })
  })

  test('may not hold more memory than it was given', async () => {
    const { error } = await run(process.execPath, ['-e', 'Buffer.alloc(3e9, 1)'], { memoryMb: 1024 })
    expect(error).not.toBeNull()
  })

  test('ends with the process that started it, also where that is killed', async () => {
    const script = `import { runBounded } from ${JSON.stringify(SOURCE)}
      runBounded('/bin/sh', ['-c', 'echo $$ >&2; exec sleep 600'], ${JSON.stringify({ ...bounds, env: { PATH: '/bin:/usr/bin' } })}, () => {})
      setTimeout(() => {}, 600_000)`
    const parent = spawn(process.execPath, ['--input-type=module', '-e', script], { stdio: ['ignore', 'ignore', 'inherit'] })
    const child = await childOf(parent.pid!)
    expect(isAlive(child)).toBe(true)
    parent.kill('SIGKILL')
    await once(parent, 'exit')
    await expect.poll(() => isAlive(child), { timeout: 10_000 }).toBe(false)
  })
})

/** The first process below another, as soon as there is one that sleeps. */
async function childOf(parent: number): Promise<number> {
  const { execFileSync } = await import('node:child_process')
  let found = 0
  await expect
    .poll(
      () => {
        const lines = execFileSync('ps', ['-eo', 'pid,ppid,args'], { encoding: 'utf8' }).split('\n')
        found = Number(
          lines.map((line) => /^\s*(\d+)\s+(\d+)\s+sleep 600/.exec(line)).find((at) => at?.[2] === String(parent))?.[1] ?? 0,
        )
        return found
      },
      { timeout: 10_000 },
    )
    .toBeGreaterThan(0)
  return found
}

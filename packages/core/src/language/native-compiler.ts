import { mkdirSync, mkdtempSync, readdirSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join, posix } from 'node:path'
import { attempt } from '../attempt.js'
import { runBounded } from './bounded-program.js'
import type { Faulty, TypeGround } from './compiler.js'
import { CONFIG } from './config.js'

/**
 * Runs TypeScript’s native compiler over some files, in a temporary folder. It is asked only which files are well, and whatever goes wrong on the way is
 * no answer: then the service checks all of them.
 */

/** The package with the compiler for this machine; not there for machines of a rare kind. */
const PACKAGE = `@typescript/typescript-${process.platform}-${process.arch}`

/** A check that takes so many seconds is given up: the service has its own limits, and an engine’s memory. */
const LONGEST = 60

/** Of output in bytes: errors of types can be long. */
const MOST_OUTPUT = 64 * 2 ** 20

const ENVIRONMENT = {
  // Its collector may wait, since it ends so soon, but not where much memory is at stake.
  GOGC: '400',
  GOMEMLIMIT: '768MiB',
}
/** Where that does not help, it ends. */
const MEMORY_MB = 2048

/** Path of the compiler and its version; null where it is not installed. */
export function nativeCompiler(): { path: string; version: string } | null {
  try {
    const require = createRequire(import.meta.url)
    const manifest = require.resolve(`${PACKAGE}/package.json`)
    const { version } = require(manifest) as { version: string }
    return { path: join(dirname(manifest), 'lib', process.platform === 'win32' ? 'tsc.exe' : 'tsc'), version }
  } catch {
    return null
  }
}

/**
 * Which of the files TypeScript has something to say of.
 * @returns null where there is no certain answer
 */
export async function faultyFiles({ files, declarations }: TypeGround): Promise<Faulty> {
  const compiler = nativeCompiler()
  if (!compiler || !canBeWritten(files.keys())) return null
  const folder = attempt(makeFolder)
  if (folder === undefined) return null
  try {
    writeCode(folder, files, declarations)
    const first = await run(compiler.path, folder, [...files.keys()])
    if (first === null || !first.syntax) return first?.faulty ?? null
    // Where it cannot read a file, it does not look at the types of any: without those, whatever needs them is faulty, too.
    const left = [...files.keys()].filter((path) => !first.faulty.has(path))
    for (const path of first.faulty) rmSync(join(folder, path))
    const then = await run(compiler.path, folder, left)
    return then && new Set([...first.faulty, ...then.faulty])
  } catch {
    return null
  } finally {
    removeFolder(folder)
  }
}

/** Code is only written within the folder, and no file over another, on any file system. */
function canBeWritten(paths: Iterable<string>): boolean {
  const names = new Set<string>()
  for (const path of paths) {
    const name = path.normalize('NFC').toLowerCase()
    if (names.has(name) || !path.startsWith('plugins/') || posix.normalize(path) !== path || /[\\:*?"<>|\p{Cc}]/u.test(path))
      return false
    names.add(name)
  }
  return true
}

interface Answer {
  faulty: Set<string>
  /** Is one of the errors about what cannot be read? TypeScript’s numbers for those begin at 1000. */
  syntax: boolean
}

function run(compiler: string, folder: string, paths: readonly string[]): Promise<Answer | null> {
  writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions: CONFIG, files: [DECLARATIONS, ...paths] }))
  const bounds = {
    cwd: folder,
    seconds: LONGEST,
    memoryMb: MEMORY_MB,
    maxBuffer: MOST_OUTPUT,
    env: { ...process.env, ...ENVIRONMENT },
  }
  return new Promise((resolve) => {
    runBounded(compiler, ['--project', folder, '--pretty', 'false', '--checkers', '1'], bounds, (error, output, told) => {
      if (!error) return resolve({ faulty: new Set(), syntax: false })
      resolve(told === '' && typeof error.code === 'number' ? readErrors(output, new Set(paths)) : null)
    })
  })
}

const DECLARATIONS = 'patient-hook.d.ts'

/** @returns null where an error is of no file that was asked for */
function readErrors(output: string, paths: ReadonlySet<string>): Answer | null {
  const answer: Answer = { faulty: new Set(), syntax: false }
  for (const line of output.split(/\r?\n/)) {
    // What belongs to the error before is indented.
    if (line === '' || line.startsWith(' ')) continue
    const [, path, number] = /^(.+)\(\d+,\d+\): error TS(\d+): /.exec(line) ?? []
    if (path === undefined || !paths.has(path)) return null
    answer.faulty.add(path)
    if (Number(number) < 2000) answer.syntax = true
  }
  return answer.faulty.size > 0 ? answer : null
}

const FOLDER = /^patient-hook-types-(\d+)-/
const folders = new Set<string>()

function makeFolder(): string {
  removeForgotten()
  const folder = realpathSync(mkdtempSync(join(tmpdir(), `patient-hook-types-${process.pid}-`)))
  folders.add(folder)
  return folder
}

function writeCode(folder: string, files: ReadonlyMap<string, string>, declarations: string): void {
  const made = new Set<string>()
  for (const [path, text] of files) {
    const file = join(folder, path)
    if (!made.has(dirname(file))) mkdirSync(dirname(file), { recursive: true })
    made.add(dirname(file))
    writeFileSync(file, text)
  }
  writeFileSync(join(folder, DECLARATIONS), declarations)
}

function removeFolder(folder: string): void {
  folders.delete(folder)
  attempt(() => rmSync(folder, { recursive: true, force: true }))
}

/** For a process that ends in the middle of it. */
export const removeFolders = (): void => folders.forEach(removeFolder)

/** Those of processes that were killed. */
function removeForgotten(): void {
  for (const name of readdirSync(tmpdir())) {
    const pid = Number(FOLDER.exec(name)?.[1] ?? process.pid)
    if (pid !== process.pid && !isAlive(pid)) attempt(() => rmSync(join(tmpdir(), name), { recursive: true, force: true }))
  }
}

function isAlive(pid: number): boolean {
  try {
    return process.kill(pid, 0)
  } catch (error) {
    // Somebody else’s.
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}

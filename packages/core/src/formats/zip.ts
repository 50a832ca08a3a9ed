import { isUtf8 } from 'node:buffer'
import { finished } from 'node:stream/promises'
import type { Entry, ZipFile } from 'yauzl'
import { HookError } from '../errors.js'
import { encodingProblem } from './encoding.js'

/** Texts by path as a zip, and back: the same byte for byte, and nothing that a zip should not have. */

/** What may be in a zip: so many files, bytes of one and of all, unpacked. */
export const ZIP_LIMITS = { files: 20_000, file: 16 * 1024 * 1024, all: 128 * 1024 * 1024 } as const

/** The date of every file in it, so that the same texts make the same zip. */
const DATE = new Date(Date.UTC(2020, 0, 1))
/** `-rw-r--r--` of a plain file. */
const MODE = 0o100644
/** The kind of a file within its mode, and a symbolic link's. */
const KIND = 0o170000
const LINK = 0o120000

/** @param files text by path, with `/`; the order of the paths is that of the alphabet */
export async function writeZip(files: ReadonlyMap<string, string>): Promise<Buffer> {
  const { ZipFile: Writer } = await import('yazl')
  const zip = new Writer()
  for (const [path, text] of [...files].sort(([a], [b]) => (a < b ? -1 : 1)))
    zip.addBuffer(Buffer.from(text, 'utf8'), path, { mtime: DATE, mode: MODE, compress: true, forceDosTimestamp: true })
  zip.end()
  const chunks: Buffer[] = []
  zip.outputStream.on('data', (chunk: Buffer) => chunks.push(chunk))
  await finished(zip.outputStream)
  return Buffer.concat(chunks)
}

/**
 * @param name what the zip is called, for errors
 * @param accepts which paths it may contain
 * @throws HookError zip/bad naming what is wrong with which file: a path that leads out, a link, a bomb, a text that is no UTF-8
 */
export async function readZip(name: string, bytes: Buffer, accepts: (path: string) => boolean): Promise<Map<string, string>> {
  const bad = (detail: string) => new HookError('zip/bad', { file: name, detail })
  const { fromBuffer } = await import('yauzl')
  const zip = await new Promise<ZipFile>((done, fail) =>
    fromBuffer(bytes, { lazyEntries: true, validateEntrySizes: true, strictFileNames: true }, (error, opened) =>
      error ? fail(bad(`it cannot be opened: ${error.message}`)) : done(opened),
    ),
  )
  const files = new Map<string, string>()
  const seen = new Set<string>()
  let all = 0
  const take = async (entry: Entry): Promise<void> => {
    const path = entry.fileName
    if (path.endsWith('/')) return
    if (((entry.externalFileAttributes >>> 16) & KIND) === LINK)
      throw bad(`${path} is a link; a zip of a project has plain files only`)
    if (entry.isEncrypted()) throw bad(`${path} is encrypted`)
    if (!accepts(path)) throw bad(`${path} is no file of a project`)
    if (seen.has(path.toLowerCase())) throw bad(`${path} appears twice in the zip`)
    seen.add(path.toLowerCase())
    if (seen.size > ZIP_LIMITS.files) throw bad(`it has more than ${ZIP_LIMITS.files} files`)
    all += entry.uncompressedSize
    if (entry.uncompressedSize > ZIP_LIMITS.file)
      throw bad(`${path} has ${entry.uncompressedSize} bytes unpacked; ${ZIP_LIMITS.file} are taken`)
    if (all > ZIP_LIMITS.all) throw bad(`its files have more than ${ZIP_LIMITS.all} bytes unpacked`)
    const text = await contentsOf(zip, entry)
    const problem = encodingProblem(text, isUtf8)
    if (problem !== null) throw bad(`${path}: ${problem}`)
    files.set(path, text.toString('utf8'))
  }
  await new Promise<void>((done, fail) => {
    zip.on('error', (error: Error) => fail(error instanceof HookError ? error : bad(error.message)))
    zip.on('end', done)
    zip.on('entry', (entry: Entry) => {
      take(entry).then(
        () => zip.readEntry(),
        (error: unknown) => fail(error instanceof HookError ? error : bad(`${entry.fileName}: ${(error as Error).message}`)),
      )
    })
    zip.readEntry()
  }).finally(() => zip.close())
  return files
}

/** The library ends with an error as soon as there is more than the entry says. */
async function contentsOf(zip: ZipFile, entry: Entry): Promise<Buffer> {
  const stream = await new Promise<NodeJS.ReadableStream>((done, fail) =>
    zip.openReadStream(entry, (error, opened) => (error ? fail(error) : done(opened))),
  )
  const chunks: Buffer[] = []
  for await (const chunk of stream) chunks.push(chunk as Buffer)
  return Buffer.concat(chunks)
}

import { createHash } from 'node:crypto'
import { mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { deserialize, serialize } from 'node:v8'

/**
 * What was worked out from the texts of projects, on disk, in node_modules/.cache: a process that starts need not work out again what one
 * before it has. What is kept is bounded by the files of projects, since what comes of a file takes the place of what came of its earlier
 * text. Nothing depends on it: what cannot be read is worked out, and what cannot be written is not kept.
 */

let root: string | null = null

/** From now on it is kept. For processes that run projects, not for tests of what is worked out. */
export function keepOnDisk(): void {
  root ??= attempt(() => join(cacheFolder(), builtName())) ?? null
}

export class KeptOnDisk<T> {
  /** @param kind what is kept, as the name of a folder */
  constructor(private readonly kind: string) {}

  /** @param name of which there is one answer at most @param from all that the answer depends on */
  read(name: string, from: string): T | null {
    if (root === null) return null
    const entry = attempt(() => deserialize(readFileSync(this.#pathOf(name))) as { from: string; answer: T })
    return entry?.from === from ? entry.answer : null
  }

  write(name: string, from: string, answer: T): void {
    if (root === null) return
    const path = this.#pathOf(name)
    attempt(() => {
      mkdirSync(dirname(path), { recursive: true })
      const own = `${path}.${process.pid}`
      writeFileSync(own, serialize({ from, answer }))
      renameSync(own, path)
    })
  }

  #pathOf(name: string): string {
    return join(root!, this.kind, createHash('sha256').update(name).digest('hex').slice(0, 32))
  }
}

const cacheFolder = (): string =>
  join(dirname(createRequire(import.meta.url).resolve('typescript/package.json')), '..', '.cache', 'patient-hook')

/** Differs whenever what works things out differs: ours, TypeScript, or V8, in whose form it is written. */
function builtName(): string {
  const hash = createHash('sha256').update(process.version)
  hash.update(readFileSync(createRequire(import.meta.url).resolve('typescript/package.json')))
  // Of the package as it was built, wherever in it this stands.
  const built = join(dirname(fileURLToPath(import.meta.url)), '..')
  for (const part of ['sandbox', 'language', 'findings'].map((name) => join(built, name)))
    for (const name of readdirSync(part)
      .filter((each) => each.endsWith('.js'))
      .sort())
      hash.update(`${name}\0`).update(readFileSync(join(part, name)))
  return hash.digest('hex').slice(0, 16)
}

function attempt<T>(work: () => T): T | undefined {
  try {
    return work()
  } catch {
    return undefined
  }
}

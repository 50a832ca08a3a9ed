// Runs CommonJS files of which V8's compiled form is kept in node_modules/.cache, for this version of Node and its flags: a large file takes a fraction of the time then.
import { createHash } from 'node:crypto'
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { basename, dirname, join } from 'node:path'
import { Script } from 'node:vm'

const folder = join(dirname(createRequire(import.meta.url).resolve('typescript/package.json')), '..', '.cache', 'patient-hook')

/**
 * @param file path of it
 * @param text the bundle
 * @param name what is kept has, up to the version; of the same file there is one version at a time
 * @param version another one whenever the text is another: V8 only looks at its length
 * @returns what it exports
 */
export function runCompiled(file, text, name, version) {
  // V8 takes it only where it was made with the same flags.
  const flags = process.execArgv
    .join(' ')
    .replace(/[^a-z0-9]+/gi, '-')
    .slice(-100)
  const cache = join(folder, `${name}-${version}-${process.version}-${process.arch}${flags}.bin`)
  const script = new Script(`(function (exports, require, module, __filename, __dirname) {${text}\n})`, {
    filename: file,
    cachedData: attempt(() => readFileSync(cache)),
  })
  const module = { exports: {} }
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file))
  if (script.cachedDataRejected !== false)
    // It could not be read, or is of another build of Node. Where it cannot be written, nothing is lost but time.
    attempt(() => {
      mkdirSync(folder, { recursive: true })
      for (const other of readdirSync(folder))
        if (other.startsWith(`${name}-`) && !other.startsWith(`${name}-${version}-`)) rmSync(join(folder, other), { force: true })
      const own = `${cache}.${process.pid}`
      writeFileSync(own, script.createCachedData())
      renameSync(own, cache)
    })
  return module.exports
}

/** Runs all of a program in one file, as scripts/bundle.mjs makes it. @param file path of it */
export function runBundle(file) {
  const text = readFileSync(file, 'utf8')
  runCompiled(file, text, basename(file), createHash('sha256').update(text).digest('hex').slice(0, 16))
}

function attempt(work) {
  try {
    return work()
  } catch {
    return undefined
  }
}

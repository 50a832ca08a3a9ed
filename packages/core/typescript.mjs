// TypeScript, loaded when something of it is first asked for: who finds all modules compiled never needs it. An import of CommonJS would have its nine megabytes looked through for names first; and
// what the engine makes of them is kept in node_modules/.cache, for this version of Node: with it, loading takes a third of the time.
import { createRequire } from 'node:module'
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { Script } from 'node:vm'

const require = createRequire(import.meta.url)
const file = require.resolve('typescript')

function load() {
  const folder = join(dirname(require.resolve('typescript/package.json')), '..', '.cache', 'patient-hook')
  const { version } = require('typescript/package.json')
  // V8 takes it only where it was made with the same flags.
  const flags = process.execArgv.join(' ').replace(/[^a-z0-9]+/gi, '-')
  const cache = join(folder, `typescript-${version}-${process.version}-${process.arch}${flags}.bin`.slice(-200))
  const text = readFileSync(file, 'utf8')
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
      const own = `${cache}.${process.pid}`
      writeFileSync(own, script.createCachedData())
      renameSync(own, cache)
    })
  return module.exports
}

function attempt(work) {
  try {
    return work()
  } catch {
    return undefined
  }
}

// Until it is loaded, whatever is asked of it comes to the prototype; from then on everything is its own.
const ts = Object.create(
  new Proxy(
    {},
    {
      get(_, name) {
        // Whoever has loaded it in the usual way shares that.
        Object.assign(ts, require.cache[file]?.exports ?? load())
        Object.setPrototypeOf(ts, Object.prototype)
        return ts[name]
      },
    },
  ),
)

export default ts

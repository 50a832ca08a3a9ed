// TypeScript, loaded when something of it is first asked for: who finds all modules compiled never needs it. An import of CommonJS would have its nine megabytes looked through for names first.
import { createRequire } from 'node:module'
import { readFileSync } from 'node:fs'
import { runCompiled } from './compiled-script.mjs'

const require = createRequire(import.meta.url)
const file = require.resolve('typescript')

const load = () => runCompiled(file, readFileSync(file, 'utf8'), 'typescript', require('typescript/package.json').version)

// Until it is loaded, whatever is asked of it comes to the prototype; from then on everything is its own.
const ts = Object.create(
  new Proxy(
    {},
    {
      get(_, name) {
        // A user who has loaded it in the usual way shares that.
        Object.assign(ts, require.cache[file]?.exports ?? load())
        Object.setPrototypeOf(ts, Object.prototype)
        return ts[name]
      },
    },
  ),
)

export default ts

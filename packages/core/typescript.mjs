// TypeScript as Node loads it fastest: an import of CommonJS would have its nine megabytes looked through for names first.
import { createRequire } from 'node:module'

export default createRequire(import.meta.url)('typescript')

// What a thread starts with that has all of its code in one file (scripts/bundle-engines.mjs): the file is its first argument.
import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { runCompiled } from './compiled-script.mjs'

const file = process.argv[2]
const text = readFileSync(file, 'utf8')
runCompiled(file, text, basename(file), createHash('sha256').update(text).digest('hex').slice(0, 16))

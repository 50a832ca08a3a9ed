// What a thread starts with that has all of its code in one file: the file is its first argument.
import { runBundle } from './compiled-script.mjs'

runBundle(process.argv[2])

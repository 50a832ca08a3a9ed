import { KeptOnDisk } from '../language/kept-on-disk.js'
import type { CompiledModule, Equipment } from './compile.js'

/** Compiled modules on disk. */

const kept = new KeptOnDisk<CompiledModule>('compiled')

/** @param number of the module, which its code holds */
export const readCompiled = (file: string, text: string, number: number, equipment: Equipment): CompiledModule | null =>
  kept.read(nameOf(file, number, equipment), text)

export const writeCompiled = (compiled: CompiledModule, text: string, number: number, equipment: Equipment): void =>
  kept.write(nameOf(compiled.file, number, equipment), text, compiled)

const nameOf = (file: string, number: number, equipment: Equipment): string => `${file}\0${number}\0${equipment}`

import { KeptOnDisk } from '../disk/kept-on-disk.js'
import type { CompiledModule, Equipment } from './compile.js'

/** Compiled modules on disk: by equipment, since what needs one of them seldom needs another. */

const kept: Record<Equipment, KeptOnDisk<CompiledModule>> = {
  plain: new KeptOnDisk('compiled-plain'),
  probed: new KeptOnDisk('compiled-probed'),
  counted: new KeptOnDisk('compiled-counted'),
}

/** @param number of the module, which its code holds */
export const readCompiled = (file: string, text: string, number: number, equipment: Equipment): CompiledModule | null =>
  kept[equipment].read(nameOf(file, number), text)

/** Would it be kept, and is not yet? */
export const lacksCompiled = (file: string, text: string, number: number, equipment: Equipment): boolean =>
  kept[equipment].lacks(nameOf(file, number), text)

export const writeCompiled = (compiled: CompiledModule, text: string, number: number, equipment: Equipment): void =>
  kept[equipment].write(nameOf(compiled.file, number), text, compiled)

const nameOf = (file: string, number: number): string => `${file}\0${number}`

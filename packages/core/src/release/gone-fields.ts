import type { Files } from '@patient-hook/contract'
import { hookUses, parseHook } from '../findings/uses.js'
import type { Project } from '../model/types.js'
import { hooksIn } from './release-store.js'

/** Fields that the hooks of an older text read or write, and the tables of now have not. */

/** @returns in words, such as `mark reads item.name`; hooks in the order of their names */
export function goneFields(files: Files, { tables }: Project): string[] {
  const names = new Set(hooksIn(files))
  return Object.entries(files)
    .filter(([path]) => names.has(path.replace(/^.*\//, '').replace(/\.ts$/, '')) && path.includes('/hooks/'))
    .flatMap(([path, text]) => {
      const hook = path.replace(/^.*\//, '').replace(/\.ts$/, '')
      const gone = hookUses(parseHook(path, text)).uses.filter(
        ({ table, field }) => field !== 'id' && tables.get(table)?.fields.every(({ name }) => name !== field),
      )
      return [...new Set(gone.map(({ table, field, kind }) => `${hook} ${kind}s ${table}.${field}`))]
    })
}

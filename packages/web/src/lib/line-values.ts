import type { LineTrace } from '@patient-hook/contract'

/** The text beside a line of code: its values in the rehearsal, in a few words. */
export interface LineValue {
  line: number
  text: string
  /** Everything that is known of the line. */
  title: string
}

const LONGEST = 90

/** @param hook the hook that is being written: modules of lib are shown as they ran for it */
export function lineValues(lines: readonly LineTrace[], file: string, hook: string): LineValue[] {
  return lines
    .filter((each) => each.file === file && each.hook === hook)
    .map(({ line, turns, values, runs, of }) => {
      const parts: string[] = []
      if (turns > 0) parts.push(`×${turns}`)
      // For a call without a result it is enough to say that it ran.
      for (const { name, count, first, last } of values.filter((each) => !gaveNothing(each)))
        parts.push(count > 1 && first !== last ? `${name} ${first} … ${last}` : `${label(name)}${last}`)
      if (parts.length === 0 && runs > 0) parts.push(runs > 1 ? `ran ×${runs}` : 'ran')
      const text = parts.join(' · ')
      const title = [
        of === 'batch' ? 'For the whole batch' : 'For the chosen row',
        ...(turns > 0 ? [`${turns} turns of the loop`] : []),
        ...values.map(({ name, count, first, last }) =>
          count > 1 ? `${name}: ${count} values, first ${first}, last ${last}` : `${name}: ${last}`,
        ),
      ].join('\n')
      return { line, text: text.length > LONGEST ? text.slice(0, LONGEST - 1) + '…' : text, title }
    })
    .filter((each) => each.text !== '')
}

const gaveNothing = ({ name, first, last }: LineTrace['values'][number]) =>
  name.endsWith('()') && first === 'undefined' && last === 'undefined'

/** `x = 5` says nothing beside `const x = …`; a test and what a function gives back do. */
const label = (name: string): string => (name === 'if' ? '' : name === 'return' ? '→ ' : `${name.replace(/^row\.now\./, '')} = `)

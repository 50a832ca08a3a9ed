/** Words that people and files use for what is proved: a leaf that needs nothing. */

/** By property: what it says. */
export const BULK_SAYS = {
  'batch-equals-singles': 'a batch gives the same result as saving its rows one at a time',
  'order-free': 'the order of the rows in a batch does not matter',
  'batch-size-free': 'the batch size does not matter',
  'saving-again-changes-nothing': 'saving a record again without changes changes nothing and sends nothing',
  'bad-row-alone': 'a refused row does not affect the other rows of a partial save',
  'empty-and-repeated-links': 'empty links and repeated links are handled',
  'constant-queries': 'a batch of 2,000 rows needs no more queries than a small one',
  'linear-growth': 'steps and rows read grow no faster than the rows',
} as const
export type BulkPropertyName = keyof typeof BULK_SAYS
export const BULK_PROPERTIES = Object.keys(BULK_SAYS) as [BulkPropertyName, ...BulkPropertyName[]]

/** By which plugin.json names a mistake of a hook: its kind, what was there and what is there now. */
export function mistakeName({ kind, from, to }: { kind: string; from: string; to: string }): string {
  const inOneLine = (text: string) => text.trim().replace(/\s+/g, ' ') || 'nothing'
  return `${kind}: ${inOneLine(from)} → ${inOneLine(to)}`
}

/** Which part of a version goes up (semver.org). */
export const VERSION_PARTS = ['major', 'minor', 'patch'] as const

/** What stands between a working copy and its release; each can be turned off in project.json under `gate`. */
export const GATE_RULES = ['model', 'types', 'findings', 'tests', 'coverage', 'bulk'] as const
export type GateRuleName = (typeof GATE_RULES)[number]

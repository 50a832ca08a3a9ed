import type { LineTrace, RunEvent, RunLog, ValueTrace } from '@patient-hook/contract'

/** A reader of the log: what each line did, for the margin beside the code. */

type Told = Exclude<RunEvent, { kind: 'part' | 'row' }>

interface Block {
  hook: string
  of: 'row' | 'batch'
  pass: number
  /** Begins the block's lines again: load does, a guard and its each continue with the same lines. */
  again: boolean
  events: Told[]
}

/** A row's events of one part, or those of a batch. */
function* blocks({ events }: RunLog): Generator<Block> {
  let part: Extract<RunEvent, { kind: 'part' }> | null = null
  let block: Block | null = null
  for (const event of events) {
    if (event.kind === 'part' || event.kind === 'row') {
      if (block) yield block
      if (event.kind === 'part') part = event
      const ofBatch = part!.part !== 'only' && part!.part !== 'each'
      // Between a part of rows and its first row there is no event.
      const begins = ofBatch || event.kind === 'row'
      block = begins
        ? { hook: part!.hook, of: ofBatch ? 'batch' : 'row', pass: part!.pass, again: part!.part === 'load', events: [] }
        : null
    } else block?.events.push(event)
  }
  if (block) yield block
}

interface Line {
  runs: number
  turns: number
  values: Map<string, ValueTrace>
}

/** Of each hook the latest pass that had it; lines by file and number. */
export function linesOf(log: RunLog): LineTrace[] {
  const latest = new Map<string, { hook: string; of: Block['of']; pass: number; lines: Map<string, Line> }>()
  for (const { hook, of, pass, again, events } of blocks(log)) {
    const key = `${hook} ${of}`
    let known = latest.get(key)
    if (!known || again || known.pass !== pass) latest.set(key, (known = { hook, of, pass, lines: new Map() }))
    for (const event of events) note(known.lines, event)
  }
  const all: LineTrace[] = []
  for (const { hook, of, lines } of latest.values())
    for (const [place, { runs, turns, values }] of lines) {
      const [file, line] = place.split('\n') as [string, string]
      all.push({ file, line: Number(line), hook, of, runs, turns, values: [...values.values()] })
    }
  return all.sort((a, b) => (a.file === b.file ? a.line - b.line : a.file < b.file ? -1 : 1))
}

function note(lines: Map<string, Line>, event: Told): void {
  const key = `${event.file}\n${event.line}`
  const line = lines.get(key) ?? { runs: 0, turns: 0, values: new Map<string, ValueTrace>() }
  const kind = event.kind === 'more' ? event.of : event.kind
  const count = event.kind === 'more' ? event.count : 1
  if (kind === 'line') line.runs += count
  else if (kind === 'turn') line.turns += count
  else if (kind === 'value' && (event.kind === 'value' || event.kind === 'more')) {
    const known = line.values.get(event.name)
    if (known) {
      known.count += count
      known.last = event.text
    } else line.values.set(event.name, { name: event.name, count, first: event.text, last: event.text })
  } else return
  lines.set(key, line)
}

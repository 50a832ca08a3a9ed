import type { Rehearsal, RowOut, RunEvent, Value } from '@patient-hook/contract'

/** A reader of a run's log: what happened line by line, with the variables and the record as they was. */

export interface Step {
  hook: string
  part: string
  depth: number
  /** The row that the part was called for; null for a batch. */
  row: { table: string; id: number } | null
  file: string
  line: number
  /** Names and tests of this call so far, the latest last. */
  variables: { name: string; text: string; json?: unknown }[]
  /** The record as it was when the line had run; null for a batch. */
  record: Record<string, Value> | null
  /** Fields that the line set. */
  set: string[]
  /** What else the line did, in words. */
  did: string[]
  /** Places of look-ups in the run's list. */
  lookups: number[]
}

type Row = { table: string; id: number }

/** A record before any hook: as it was, with what was typed. */
function typedRecord(rows: readonly RowOut[], { table, id }: Row): Record<string, Value> {
  const row = rows.find((each) => each.table === table && each.id === id)
  const record: Record<string, Value> = { ...(row?.was ?? {}) }
  for (const change of row?.changes ?? []) {
    if (change.kind === 'typed') record[change.field] = change.to
    else record[change.field] = change.overwrites ?? change.from
  }
  return record
}

export function stepsOf({ log, rows }: Pick<Rehearsal, 'log' | 'rows'>): Step[] {
  const steps: Step[] = []
  const records = new Map<string, Record<string, Value>>()
  let part: Extract<RunEvent, { kind: 'part' }> | null = null
  let row: Row | null = null
  let variables: Step['variables'] = []
  let step: Step | null = null
  const recordOf = (of: Row): Record<string, Value> => {
    const key = `${of.table} ${of.id}`
    if (!records.has(key)) records.set(key, typedRecord(rows, of))
    return records.get(key)!
  }
  for (const event of log?.events ?? []) {
    if (event.kind === 'part' || event.kind === 'row') {
      if (event.kind === 'part') [part, row] = [event, null]
      else row = { table: event.table, id: event.id }
      variables = []
      step = null
      continue
    }
    // A line that only asks, such as a guard, has no its own statement.
    if (event.kind === 'line' || !step || (event.line !== step.line && event.line > 0 && event.kind !== 'set')) {
      step = {
        hook: part!.hook,
        part: part!.part,
        depth: part!.depth,
        row,
        file: event.file,
        line: event.line,
        variables: [...variables],
        record: row && { ...recordOf(row) },
        set: [],
        did: [],
        lookups: [],
      }
      steps.push(step)
    }
    note(step, event)
    if (event.kind === 'value') variables = [...variables.filter((each) => each.name !== event.name), event]
    step.variables = [...variables]
    if (event.kind === 'set' && row) {
      recordOf(row)[event.field] = event.to
      step.record = { ...recordOf(row) }
    }
  }
  return steps
}

function note(step: Step, event: Exclude<RunEvent, { kind: 'part' | 'row' }>): void {
  if (event.kind === 'set') step.set.push(event.field)
  else if (event.kind === 'lookup') step.lookups.push(event.index)
  else if (event.kind === 'effect')
    step.did.push(
      `${event.call} ${event.to}${event.id === null ? (event.where ? ` where ${event.where}` : '') : ` ${event.id}`}: ${event.text}`,
    )
  else if (event.kind === 'refuse') step.did.push(`refuse ${event.field ?? ''}: ${event.message}`)
  else if (event.kind === 'log') step.did.push(`log: ${event.text}`)
  else if (event.kind === 'more')
    step.did.push(
      `${event.count} more ${event.of === 'turn' ? 'turns' : 'times'}${event.text ? `, last ${event.name} = ${event.text}` : ''}`,
    )
}

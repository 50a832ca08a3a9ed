import type { BulkPropertyName, BulkVerdict } from '@patient-hook/contract'
import { makeRuntime } from '../../../src/engine/runtime.js'
import { aimsOf, proveBulk } from '../../../src/prove/bulk/prove-bulk.js'
import { filesOf, flag, hook, integer, link, number, text, type Source } from '../../world.js'

/** A small post office: parcels in vans, slips for parcels. */

const tables: Source['tables'] = {
  van: {
    fields: {
      name: { ...text, 'x-unique': true },
      parcels: integer,
      grams: number,
      note: text,
      status: { enum: ['free', 'full'], type: 'string' },
    },
  },
  parcel: {
    fields: {
      van: link('van', 'cascade'),
      grams: number,
      kilos: number,
      number: text,
      label: text,
      place: integer,
      note: text,
      fragile: flag,
      touched: integer,
    },
  },
  // Sets that cannot be twice, with parts that may be empty.
  shelf: {
    fields: { code: { ...text, maxLength: 6 }, place: { ...integer, maximum: 40 }, van: link('van', 'clear'), word: text },
    unique: [
      ['van', 'place'],
      ['code', 'van'],
    ],
    required: ['place'],
  },
  seat: { fields: { van: link('van', 'cascade'), fragile: flag, word: text }, unique: [['van', 'fragile']] },
  slip: { fields: { parcel: link('parcel', 'cascade'), van: link('van', 'cascade'), word: text, count: integer } },
}
const fixtures = {
  base: {
    van: [
      { id: 1, name: 'north', parcels: 2, grams: 300, note: 'by the gate', status: 'free' },
      { id: 2, name: 'south', parcels: 1, grams: 50, note: null, status: 'full' },
      { id: 3, name: 'west', parcels: 0, grams: 0, note: 'at night', status: 'free' },
    ],
    parcel: [
      { id: 1, van: 1, grams: 100, kilos: 0.1, number: 'P001', label: null, place: 1, note: null, fragile: false, touched: 0 },
      { id: 2, van: 1, grams: 200, kilos: 0.2, number: 'P002', label: null, place: 2, note: 'dry', fragile: true, touched: 0 },
      { id: 3, van: 2, grams: 50, kilos: 0.05, number: 'P003', label: null, place: 1, note: null, fragile: false, touched: 0 },
    ],
    shelf: [
      { id: 1, code: 'a', place: 1, van: 1, word: null },
      { id: 2, code: null, place: 1, van: null, word: null },
      { id: 3, code: 'a', place: 2, van: 2, word: null },
    ],
    seat: [
      { id: 1, van: 1, fragile: true, word: null },
      { id: 2, van: 1, fragile: false, word: null },
      { id: 3, van: null, fragile: null, word: null },
    ],
    slip: [{ id: 1, parcel: 1, van: 1, word: 'sent', count: 1 }],
  },
}

export interface Example {
  name: string
  literal: string
  /** Code before the definition. */
  head?: string
}

/** What does not hold of a hook, by property. */
export function brokenBy({ name, literal, head = '' }: Example, only?: readonly BulkPropertyName[]): BulkVerdict[] {
  const code =
    head === '' ? hook(literal) : `import { defineHook } from 'patient-hook'\n${head}\nexport default defineHook(${literal})\n`
  const { project, program } = makeRuntime(
    filesOf({
      tables,
      fixtures,
      hooks: { [name]: code },
      project: { sequences: { parcel: { prefix: 'P', digits: 3, start: 100 } } },
    }),
  )
  const verdicts: BulkVerdict[] = []
  const effort = { seed: 1, runs: 40, ms: 30_000 }
  for (const aim of aimsOf(program, [name])) proveBulk(project, program, aim, effort, (verdict) => verdicts.push(verdict), only)
  return verdicts
}

import { csvResult, type CsvResult } from '@patient-hook/contract'
import { parse } from 'csv-parse/sync'
import { expect, test } from 'vitest'
import { importReport, importWord } from '../src/lib/import-report'

/** The report of an import, read by a CSV library that is not ours. */

const result: CsvResult = csvResult.parse({
  save: 1,
  backfill: null,
  rows: 40,
  created: 30,
  changed: 8,
  same: 0,
  ripples: 0,
  refused: 2,
  refusals: [
    { code: 'check/required', message: 'Name is required', todo: 'Give it.', row: 3, line: 4, field: 'name' },
    { code: 'hook/refused', message: 'say "no",\nplease', todo: '=1+1', row: 9, hook: 'guard' },
  ],
  messages: 0,
  records: [],
  error: null,
})

test('each refused row is a line, whatever its message holds', () => {
  const rows = parse(importReport(result), { relax_column_count: true, skip_empty_lines: true }) as string[][]
  expect(rows[1]).toEqual(['40', '30', '8', '0', '2'])
  expect(rows.slice(3)).toEqual([
    ['3', '4', 'name', 'Name is required', 'Give it.', ''],
    ['9', '', '', 'say "no",\nplease', "'=1+1", 'guard'],
  ])
})

test('the summary is one sentence', () => {
  expect(importWord(result)).toBe('38 of 40 rows imported: 30 new, 8 changed; 2 refused')
  expect(importWord({ ...result, same: 2, refused: 0 })).toBe('40 of 40 rows imported: 30 new, 8 changed, 2 unchanged')
})

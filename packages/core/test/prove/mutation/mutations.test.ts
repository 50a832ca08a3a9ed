import { describe, expect, test } from 'vitest'
import { definitionOf } from '../../../src/findings/uses.js'
import { parseProject } from '../../../src/model/project.js'
import { MUTATIONS } from '../../../src/prove/mutation/mutations/index.js'
import { filesOf, hook, link, number, text } from '../../world.js'
import { treeOf } from '../../../src/syntax-tree.js'

/** Every kind of mistake does to its examples what they say. */

const project = parseProject(
  filesOf({
    tables: {
      lot: { fields: { gross: number, net: number, bay: text } },
      move: { fields: { from: link('lot'), to: link('lot') } },
    },
  }),
)

describe.each(MUTATIONS.map((mutation) => [mutation.kind, mutation] as const))('%s', (_, mutation) => {
  test.each(mutation.examples.map(({ code, changes }) => [code, changes] as const))('%s', (literal, changes) => {
    const source = treeOf('plugins/p/hooks/h.ts', hook(literal))
    const given = { source, literal: definitionOf(source)!, table: project.tables.get('lot')!, project }
    const made = [...mutation.changes(given)]
    expect(made.map(({ start, end, text: to }) => `${source.text.slice(start, end)} → ${to}`)).toEqual(changes)
  })
})

test('each kind has its own name and says what it is', () => {
  expect(new Set(MUTATIONS.map(({ kind }) => kind)).size).toBe(MUTATIONS.length)
  for (const { says, examples } of MUTATIONS) expect([says.length > 10, examples.length > 0]).toEqual([true, true])
})

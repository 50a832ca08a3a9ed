import ts from '#typescript'
import type { HookCode, Rule } from '../types.js'
import { isOwnId, ownField } from '../record-names.js'
import { withPart } from '../order.js'
import { areOwnIds, isCall, isLookup, onPurpose, stringOf, walk } from '../syntax.js'
import { initializer } from '../uses.js'

interface Effect {
  from: HookCode
  table: string
  /** null: a create or remove, which changes every field. */
  fields: string[] | null
  /** It comes to rest: every value is that of the record's own field of the same name, or it goes down a tree. */
  rests: boolean
  node: ts.CallExpression
}

/** Each hook asks for the effects of all others. */
const known = new WeakMap<HookCode, readonly Effect[]>()

function effectsOf(hook: HookCode): readonly Effect[] {
  let effects = known.get(hook)
  if (!effects) known.set(hook, (effects = effectsIn(hook)))
  return effects
}

function effectsIn(hook: HookCode): Effect[] {
  if (hook.moment !== 'after-save') return []
  const effects: Effect[] = []
  const goesDown = onlyGoesDown(hook)
  walk(hook.definition, (node) => {
    if (!isCall(node, 'update', 'create')) return
    const table = stringOf(node.arguments[0])
    const values = node.arguments[node.arguments.length - 1]
    if (table === null || !values || !ts.isObjectLiteralExpression(values)) return
    const fields = values.properties.map((each) => each.name?.getText() ?? '')
    const passesOn = values.properties.every(
      (each) => ts.isPropertyAssignment(each) && ownField(each.initializer, hook.names) === each.name.getText(),
    )
    if (fields.length > 0)
      effects.push({
        from: hook,
        table,
        fields: isCall(node, 'create') ? null : fields,
        rests: passesOn || (goesDown && table === hook.table.name),
        node,
      })
  })
  return effects
}

/** In its table, the hook looks up children of the saved records only: in a tree that ends at the leaves. */
function onlyGoesDown(hook: HookCode): boolean {
  const lookups: boolean[] = []
  walk(hook.definition, (node) => {
    if (!ts.isCallExpression(node) || stringOf(node.arguments[0]) !== hook.table.name) return
    const [, where] = node.arguments
    if (isLookup(node)) lookups.push(isCall(node, 'children') && areOwnIds(node.arguments[2], hook))
    else if (isCall(node, 'update', 'remove') && where && ts.isObjectLiteralExpression(where))
      lookups.push(where.properties.some((each) => ts.isPropertyAssignment(each) && isOwnId(each.initializer, hook.names)))
  })
  return lookups.length > 0 && lookups.every((down) => down)
}

const wakes = (effect: Effect, hook: HookCode): boolean =>
  hook.moment === 'after-save' &&
  // A hook that does not hear the ripples it caused ends the circle.
  hook.ripples === 'all' &&
  hook.table.name === effect.table &&
  hook.on.includes(effect.fields === null ? 'create' : 'update') &&
  (effect.fields === null || hook.watch.length === 0 || hook.watch.some(({ text }) => effect.fields!.includes(text)))

export const rippleCycle: Rule = {
  meta: {
    name: 'ripple-cycle',
    severity: 'error',
    title: 'Ripples that go in a circle through tables',
    why: 'A hook’s effect wakes a hook whose effect wakes the first again. The save is stopped at the ripple budget. Let the hook sleep for the ripples that it caused (ripples: “others”), or narrow the watch lists, so that the circle has an end.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'after-save', ripples: 'others', watch: ['bay'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), []), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { bay: row.now.bay + '!' }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], load: ({ rows, store }) => store.children('lot', 'parent', rows.map(r => r.id), ['bay']), each(row, below, { update }) { for (const lot of below.get(row.id) ?? []) update('lot', lot.id, { bay: row.now.bay + '/' + lot.id }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['status'], each(row, _, { update }) { if (row.now.collection) update('collection', row.now.collection, { label: 'x' }) } }\n---\n{ table: 'collection', moment: 'after-save', watch: ['district'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), []), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) update('lot', lot.id, { bay: 'A' }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), []), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { bay: row.now.bay }) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { if (row.now.collection) update('collection', row.now.collection, { label: 'from ' + row.now.bay }) } }\n---\n{ table: 'collection', moment: 'after-save', watch: ['label'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), []), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) update('lot', lot.id, { bay: row.now.label + '!' }) } }`,
    ],
  },
  look({ hook, all, say }) {
    for (const start of effectsOf(hook)) {
      const path: string[] = [hook.name]
      // Updates that only pass a field's own value on come to rest once all records have it: such a circle has an end.
      const reach = (effect: Effect, rests: boolean): boolean => {
        for (const next of all) {
          if (!wakes(effect, next)) continue
          if (next.name === hook.name && !rests) return true
          if (path.includes(next.name)) continue
          path.push(next.name)
          if (effectsOf(next).some((each) => reach(each, rests && each.rests))) return true
          path.pop()
        }
        return false
      }
      if (!reach(start, start.rests) || onPurpose(hook, start.node)) continue
      const edits = initializer(hook.definition, 'ripples') ? null : withPart(hook, `ripples: 'others'`)
      say(
        start.node,
        `this ripple comes back: ${[...path, hook.name].join(' → ')}`,
        edits && { title: 'Sleep for its own ripples', edits },
      )
    }
  },
}

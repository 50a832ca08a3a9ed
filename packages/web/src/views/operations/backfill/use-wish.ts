import type { BackfillWish, Table, Value } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import { conditionsOf, whereOf, type Condition, type Where } from '../../../lib/conditions'
import { useProject } from '../../../stores/project'

/** What is asked of a backfill, as it is put together. */

export interface NumberWish {
  field: string
  /** Empty: one series for all. */
  by: string
  series: string
  /** By value of `by`. */
  of: Record<string, string>
}

/** @param first the table to begin with, by its name @param which conditions to begin with */
export function useWish(first: string | null, which: Where = {}) {
  const project = useProject()
  const table = shallowRef<Table | undefined>(project.table(first ?? '') ?? project.tables[0])
  const conditions = ref<Condition[]>(conditionsOf(which))
  const order = ref('')
  const what = ref<'hooks' | 'set' | 'number'>('hooks')
  const hooks = ref<string[]>([])
  const values = ref<Record<string, Value>>({})
  const number = ref<NumberWish>({ field: '', by: '', series: '', of: {} })
  const withEffects = ref(false)
  const withMessages = ref(false)
  watch(table, (now, before) => {
    // The same table, come only now with the project.
    if (!before || now?.name === before.name) return
    conditions.value = []
    order.value = ''
    hooks.value = []
    values.value = {}
    number.value = { field: '', by: '', series: '', of: {} }
  })
  // The project may come after the view.
  watch(
    () => project.tables,
    (tables) => (table.value = tables.find(({ name }) => name === (table.value?.name ?? first)) ?? table.value ?? tables[0]),
  )

  const part = computed<Pick<BackfillWish, 'hooks' | 'set' | 'number'> | string>(() => {
    if (what.value === 'hooks') return hooks.value.length > 0 ? { hooks: hooks.value } : 'Choose a hook.'
    if (what.value === 'set') return Object.keys(values.value).length > 0 ? { set: values.value } : 'Choose a field to set.'
    const { field, by, series, of } = number.value
    if (field === '') return 'Choose a number field.'
    if (by === '') return series === '' ? 'Choose a sequence.' : { number: { field, series } }
    const named = Object.fromEntries(Object.entries(of).filter(([, name]) => name !== ''))
    return Object.keys(named).length > 0
      ? { number: { field, series: { by, of: named } } }
      : 'Choose a sequence for at least one kind.'
  })
  const where = computed(() => (table.value ? whereOf(table.value, conditions.value) : { where: {}, faults: {} }))
  /** What is missing still; null where it can be planned. */
  const fault = computed(() => {
    const [first] = Object.entries(where.value.faults)
    if (first) return `Condition ${Number(first[0]) + 1} ${first[1]}.`
    return typeof part.value === 'string' ? part.value : null
  })
  const wish = computed<BackfillWish | null>(() =>
    fault.value !== null || !table.value
      ? null
      : {
          table: table.value.name,
          where: where.value.where,
          order: order.value.split(/[\s,]+/).filter((each) => each !== '' && each !== 'id'),
          ...(part.value as object),
          withEffects: withEffects.value,
          withMessages: withMessages.value,
        },
  )
  return { table, conditions, order, what, hooks, values, number, withEffects, withMessages, wish, fault }
}

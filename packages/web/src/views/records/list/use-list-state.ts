import type { ListQuery, Table } from '@patient-hook/contract'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter, type LocationQuery } from 'vue-router'
import { conditionsOf, whereIn, whereOf, type Condition, type Where } from '../../../lib/conditions'

/** Which records a list shows, in which order and with which columns. It stands in the address, to be kept and handed on. */

/** As it stands in an address. */
export const queryOf = ({ search, order, where, columns }: ListQuery): Record<string, string> => ({
  ...(search ? { search } : {}),
  ...(order ? { order } : {}),
  ...(Object.keys(where).length > 0 ? { where: JSON.stringify(where) } : {}),
  ...(columns ? { columns: columns.join(',') } : {}),
})
function listIn(query: LocationQuery): ListQuery {
  const text = (name: string) => (typeof query[name] === 'string' ? query[name] : '')
  return {
    search: text('search'),
    order: text('order'),
    where: whereIn(text('where')),
    columns: text('columns') ? text('columns').split(',') : null,
  }
}

export function useListState(table: () => Table | undefined) {
  const route = useRoute()
  const router = useRouter()
  const search = ref('')
  const order = ref('')
  const conditions = ref<Condition[]>([])
  const filtering = ref(false)
  /** The one before as long as a condition is being typed. */
  const where = ref<Where>({})
  const columns = ref<string[] | null>(null)
  const preferred = useLocalStorage<Record<string, string[]>>('patient-hook:columns', {})

  const list = computed<ListQuery>(() => ({
    search: search.value,
    order: order.value,
    where: where.value,
    columns: columns.value,
  }))
  const query = computed(() => queryOf(list.value))

  /** Shows what a view or an address names. */
  function take(wanted: ListQuery): void {
    search.value = wanted.search
    order.value = wanted.order
    where.value = wanted.where
    conditions.value = conditionsOf(wanted.where)
    filtering.value = conditions.value.length > 0
    columns.value = wanted.columns ?? preferred.value[table()?.name ?? ''] ?? null
  }
  take(listIn(route.query))
  // The address leads, where it was changed by a link or the way back; else it follows.
  watch(
    () => [route.name, route.params['table'], JSON.stringify(queryOf(listIn(route.query)))],
    ([name, of, now], [, before]) => {
      if (name === 'records' && (of !== before || now !== JSON.stringify(query.value))) take(listIn(route.query))
    },
  )
  watch(query, (now, before) => {
    if (JSON.stringify(now) === JSON.stringify(before) || route.name !== 'records') return
    const { why } = route.query
    void router.replace({ params: route.params, query: { ...now, ...(why ? { why } : {}) } })
  })
  watch(conditions, (now) => {
    const of = table()
    if (!of) return
    const made = whereOf(of, now)
    if (Object.keys(made.faults).length === 0 && JSON.stringify(made.where) !== JSON.stringify(where.value))
      where.value = made.where
  })

  /** Those that there are, in their order. */
  const shownColumns = computed(() => {
    const all = (table()?.fields ?? []).map(({ name }) => name)
    return columns.value?.filter((name) => all.includes(name)) ?? all
  })
  function setColumns(names: string[]): void {
    const of = table()
    if (!of) return
    const all = of.fields.map(({ name }) => name).join()
    columns.value = names.join() === all ? null : names
    const { [of.name]: _before, ...others } = preferred.value
    preferred.value = columns.value ? { ...others, [of.name]: names } : others
  }
  return { search, order, conditions, filtering, where, list, query, columns: shownColumns, setColumns, take }
}
export type ListState = ReturnType<typeof useListState>

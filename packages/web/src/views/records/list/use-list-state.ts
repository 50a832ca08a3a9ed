import type { ListQuery, Table } from '@patient-hook/contract'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { conditionsOf, whereOf, type Condition, type Where } from '../../../lib/conditions'
import { addressOfList, listInAddress } from '../../../lib/list-address'

/** Records a list shows, in which order and with which columns. It is part of the URL, to be kept and handed on. */

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
  const query = computed(() => addressOfList(list.value))

  /** Shows what a view or an address names. */
  function take(wanted: ListQuery): void {
    search.value = wanted.search
    order.value = wanted.order
    where.value = wanted.where
    conditions.value = conditionsOf(wanted.where)
    filtering.value = conditions.value.length > 0
    columns.value = wanted.columns ?? preferred.value[table()?.name ?? ''] ?? null
  }
  take(listInAddress(route.query))
  // The address leads, where it was changed by a link or the way back; else it follows.
  watch(
    () => [route.name, route.params['table'], JSON.stringify(addressOfList(listInAddress(route.query)))],
    ([name, of, now], [, before]) => {
      if (name === 'records' && (of !== before || now !== JSON.stringify(query.value))) take(listInAddress(route.query))
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

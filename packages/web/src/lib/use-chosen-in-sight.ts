import { nextTick, watch, type Ref } from 'vue'

/** Scrolls a list to the one of it that is chosen (`.chosen`), when it opens and whenever another is. */
export function useChosenInSight(list: Readonly<Ref<HTMLElement | null>>, chosen: () => unknown): void {
  watch(
    [list, chosen],
    async () => {
      await nextTick()
      list.value?.querySelector('.chosen')?.scrollIntoView({ block: 'nearest' })
    },
    { immediate: true, flush: 'post' },
  )
}

import { computed, shallowRef } from 'vue'

/** What was there before each change, to go back to and forth again. */

/** Steps back that are remembered. */
const MOST = 200

export function useUndo<T>(first: T) {
  const past = shallowRef<readonly T[]>([])
  const future = shallowRef<readonly T[]>([])
  const now = shallowRef(first)
  function change(next: T): void {
    past.value = [...past.value.slice(1 - MOST), now.value]
    future.value = []
    now.value = next
  }
  /** Other things are looked at: there is no step to undo. */
  function begin(next: T): void {
    past.value = []
    future.value = []
    now.value = next
  }
  function undo(): void {
    const before = past.value.at(-1)
    if (before === undefined) return
    past.value = past.value.slice(0, -1)
    future.value = [now.value, ...future.value]
    now.value = before
  }
  function redo(): void {
    const [next, ...rest] = future.value
    if (next === undefined) return
    past.value = [...past.value, now.value]
    future.value = rest
    now.value = next
  }
  return {
    now,
    change,
    begin,
    undo,
    redo,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
  }
}

import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'

const LEAST = 40
const STEP = 16

/** Widths of columns that somebody has set, remembered by this browser. @param name of the grid; empty: not remembered */
export function useWidths(name: () => string) {
  const all = useLocalStorage<Record<string, Record<string, number>>>('patient-hook:widths', {})
  const widths = computed(() => all.value[name()] ?? {})

  function set(key: string, width: number | null): void {
    const { [key]: _, ...others } = widths.value
    const next = width === null ? others : { ...others, [key]: Math.max(LEAST, Math.round(width)) }
    all.value = { ...all.value, [name()]: next }
  }
  /** Follows the pointer until it is let go. */
  function drag(key: string, event: PointerEvent): void {
    const head = (event.target as HTMLElement).closest('th')!
    const [from, before] = [event.clientX, head.offsetWidth]
    const move = (moved: PointerEvent) => set(key, before + moved.clientX - from)
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', () => window.removeEventListener('pointermove', move), { once: true })
    event.preventDefault()
  }
  /** Alt with an arrow key in the head, for anyone who has no pointer. @returns whether it was one */
  function key(column: string, event: KeyboardEvent): boolean {
    const by = event.key === 'ArrowRight' ? STEP : event.key === 'ArrowLeft' ? -STEP : 0
    if (!event.altKey || by === 0) return false
    set(column, (event.target as HTMLElement).closest('th')!.offsetWidth + by)
    return true
  }
  const styleOf = (column: string) => {
    const width = widths.value[column]
    return width === undefined ? undefined : { width: `${width}px`, minWidth: `${width}px`, maxWidth: `${width}px` }
  }
  return { set, drag, key, styleOf }
}

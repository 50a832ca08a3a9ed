import { defineStore } from 'pinia'
import { ref } from 'vue'

/** What was done, in a line that goes away; with the way to undo it where there is one. */
export interface Notice {
  id: number
  text: string
  undo?: () => void
}

export const useNotices = defineStore('notices', () => {
  const all = ref<Notice[]>([])
  let last = 0
  /** Shows a line. @param undo offered beside it */
  function say(text: string, undo?: () => void): void {
    all.value = [...all.value, { id: ++last, text, ...(undo ? { undo } : {}) }]
  }
  const dismiss = (id: number) => (all.value = all.value.filter((each) => each.id !== id))
  return { all, say, dismiss }
})

import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import type { RouteLocationRaw } from 'vue-router'
import { useProject } from './project'

/** A tour of five steps through the life of a change. It is offered once, and can be left and taken again at any time. */

export interface TourStep {
  title: string
  text: string
  to: RouteLocationRaw
}

export const useTour = defineStore('tour', () => {
  const project = useProject()
  /** `new` until it was taken or skipped; otherwise the number of the step, or `over`. */
  const state = useLocalStorage('patient-hook:tour', 'new')

  const steps = computed((): TourStep[] => {
    const [hook] = project.hooks
    const name = hook?.name ?? ''
    return [
      {
        title: 'Write',
        text: 'Code on top, its effect on real rows below. Values beside the lines belong to the selected row; values set by a hook are marked H. Everything updates whenever you pause typing.',
        to: { name: 'write', params: { hook: name } },
      },
      {
        title: 'Rehearse',
        text: 'Change a record and see what the save would do, step by step. A rehearsal is rolled back: no change is stored. You can save it as a unit test.',
        to: { name: 'rehearse' },
      },
      {
        title: 'Prove',
        text: 'Unit tests, findings, coverage and mutations for each hook, and the bulk proof: the same result for one record and a thousand. Choose a cell to see its evidence.',
        to: { name: 'prove' },
      },
      {
        title: 'Release',
        text: 'Saved code does not run on live saves yet. Review the changes, run the release checks, and release to a pilot user or to everyone. You can roll back.',
        to: { name: 'release', params: { plugin: hook?.plugin ?? '' } },
      },
      {
        title: 'Records',
        text: 'Live records, with what hooks will set shown before you save. Choose a value to see which hook set it, when and why.',
        to: { name: 'records', params: { table: hook?.table ?? '' } },
      },
    ]
  })
  const at = computed(() => (/^\d$/.test(state.value) && Number(state.value) < steps.value.length ? Number(state.value) : null))
  const step = computed(() => (at.value === null ? null : steps.value[at.value]!))
  const isOffered = computed(() => state.value === 'new' && project.hooks.length > 0)

  const goTo = (index: number) => (state.value = index < steps.value.length ? String(index) : 'over')
  const end = () => (state.value = 'over')
  return { steps, at, step, isOffered, goTo, end }
})

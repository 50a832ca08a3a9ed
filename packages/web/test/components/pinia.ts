import { createPinia, setActivePinia } from 'pinia'

/** Fresh stores for each component. */
export function createTestingPinia() {
  const pinia = createPinia()
  setActivePinia(pinia)
  return pinia
}

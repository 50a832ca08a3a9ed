<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { SHORTCUTS } from '../../lib/shortcuts'
import { VIEWS } from '../../router'

/** All shortcuts, in a dialog that ? opens wherever nothing is typed. */
const open = ref(false)
const groups = computed(() => {
  const [everywhere, ...others] = SHORTCUTS
  const views = VIEWS.map(({ key, word }) => ({ keys: `Alt+${key}`, what: `Go to ${word}` }))
  return [{ ...everywhere!, shortcuts: [...everywhere!.shortcuts, ...views] }, ...others]
})
const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
useEventListener('keydown', (event) => {
  if (event.key === '?' && !event.ctrlKey && !event.altKey && !event.metaKey && !isTyping(event.target)) open.value = true
})
defineExpose({ show: () => (open.value = true) })
</script>

<template>
  <v-dialog v-model="open" aria-label="Shortcuts" scrollable>
    <v-card title="Shortcuts">
      <v-card-text tabindex="0">
        <section v-for="{ where, shortcuts } in groups" :key="where">
          <h3>{{ where }}</h3>
          <v-table density="compact">
            <tbody>
              <tr v-for="{ keys, what } in shortcuts" :key="what">
                <th scope="row">
                  <kbd>{{ keys }}</kbd>
                </th>
                <td>{{ what }}</td>
              </tr>
            </tbody>
          </v-table>
        </section>
      </v-card-text>
      <v-card-actions><v-btn @click="open = false">Close</v-btn></v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
h3 {
  margin: 12px 0 4px;
}
th {
  width: 170px;
  font-weight: 400;
}
</style>

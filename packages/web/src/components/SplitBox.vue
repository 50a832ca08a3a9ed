<script setup lang="ts">
import { Splitpanes } from 'splitpanes'
import { nextTick, onMounted, useTemplateRef } from 'vue'

/** Panes with a divider that says its position to screen readers, which the library leaves out. */
defineProps<{ horizontal?: boolean }>()
const holder = useTemplateRef<HTMLDivElement>('holder')

async function say(): Promise<void> {
  await nextTick()
  const box = holder.value?.firstElementChild
  for (const divider of box?.querySelectorAll(':scope > .splitpanes__splitter') ?? []) {
    const pane = divider.previousElementSibling as HTMLElement | null
    divider.setAttribute('aria-valuenow', String(Math.round(Number.parseFloat(pane?.style.width || pane?.style.height || '50'))))
    divider.setAttribute('aria-label', 'Divider')
  }
}
onMounted(say)
</script>

<template>
  <div ref="holder" class="holder">
    <Splitpanes :horizontal="horizontal" @ready="say" @resized="say" @pane-add="say"><slot /></Splitpanes>
  </div>
</template>

<style scoped>
.holder {
  height: 100%;
  min-height: 0;
}
</style>

<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { Pane, Splitpanes } from 'splitpanes'
import { cloneVNode, Fragment, nextTick, onMounted, useTemplateRef, type VNode } from 'vue'

/** Panes whose sizes are remembered, with dividers that say their position to screen readers, which the library leaves out. */
const props = defineProps<{ name: string; horizontal?: boolean }>()
const slots = defineSlots<{ default(): VNode[] }>()
const holder = useTemplateRef<HTMLDivElement>('holder')
/** Sizes in percent, by name and number of panes: a pane that opens changes the others. */
const sizes = useLocalStorage<Record<string, number[]>>('patient-hook:panes', {})
const keyOf = (count: number): string => `${props.name}/${count}`

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

/** What somebody moved is remembered; what opening or closing a pane moves is not. */
function resized({ event, index, panes }: { event?: unknown; index?: number; panes: { size: number }[] }): void {
  void say()
  if (event !== undefined || index !== undefined)
    sizes.value = { ...sizes.value, [keyOf(panes.length)]: panes.map(({ size }) => Math.round(size * 10) / 10) }
}

function panes(): VNode[] {
  const flat = (nodes: VNode[]): VNode[] =>
    nodes.flatMap((node) => (node.type === Fragment ? flat(node.children as VNode[]) : node.type === Pane ? [node] : []))
  const all = flat(slots.default())
  const remembered = sizes.value[keyOf(all.length)]
  return remembered?.length === all.length ? all.map((pane, at) => cloneVNode(pane, { size: remembered[at] })) : all
}
</script>

<template>
  <div ref="holder" class="holder">
    <Splitpanes :horizontal="horizontal" @ready="say" @resized="resized" @pane-add="say"><panes /></Splitpanes>
  </div>
</template>

<style scoped>
.holder {
  height: 100%;
  min-height: 0;
}
</style>

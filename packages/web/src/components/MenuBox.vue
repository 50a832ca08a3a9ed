<script setup lang="ts">
import { onClickOutside } from '@vueuse/core'
import { useTemplateRef } from 'vue'

/** A small panel below its name in a bar; Escape and a click elsewhere put it away. */
defineProps<{ title: string }>()
const box = useTemplateRef<HTMLDetailsElement>('box')
function close(): void {
  box.value?.removeAttribute('open')
}
onClickOutside(box, close)
function leave(): void {
  close()
  box.value?.querySelector('summary')?.focus()
}
defineExpose({ close })
</script>

<template>
  <details ref="box" class="menu-box" @keydown.escape.stop="leave">
    <summary>{{ title }}</summary>
    <div class="menu">
      <slot />
    </div>
  </details>
</template>

<style scoped>
.menu-box {
  position: relative;
}
summary {
  cursor: pointer;
  padding: 3px 6px;
  max-width: 180px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.menu {
  position: absolute;
  z-index: 5;
  top: 26px;
  left: 0;
  background: rgb(var(--v-theme-surface));
  border: 1px solid rgb(var(--v-theme-line));
  padding: 8px 12px;
  width: 280px;
  max-height: 420px;
  overflow: auto;
  white-space: normal;
}
</style>

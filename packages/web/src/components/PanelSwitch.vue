<script setup lang="ts" generic="K extends string">
/** Chooses one of a few parts that is shown. */
defineProps<{ panels: Readonly<Record<K, string>>; label: string }>()
const panel = defineModel<K>({ required: true })
</script>

<template>
  <div class="switch" role="tablist" :aria-label="label">
    <button
      v-for="[each, word] in Object.entries(panels) as [K, string][]"
      :key="each"
      role="tab"
      type="button"
      :aria-selected="panel === each"
      @click="panel = each"
    >
      {{ word }}
    </button>
  </div>
</template>

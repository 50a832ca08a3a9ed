<script setup lang="ts">
import type { KeepTest as KeepTestWish, KeptTest } from '@patient-hook/contract'
import { computed, ref, shallowRef } from 'vue'
import BusyButton from './BusyButton.vue'
import ErrorNote from './ErrorNote.vue'
import FoldBox from './FoldBox.vue'
import { api } from '../lib/api'
import { useAttempt } from '../lib/use-attempt'
import { useProject } from '../stores/project'

/** Makes a unit test of what was tried: shown and tried first, then kept with the project. */
const props = defineProps<{
  make: (wish: KeepTestWish) => Promise<KeptTest>
  /** The plugin that gets it, unless another is chosen. */
  plugin: string | undefined
  /** It can be no other. */
  fixed?: boolean
  /** Hooks of which it can be expected that they do not run. */
  slept?: readonly string[]
  example: string
}>()
const emit = defineEmits<{ close: []; kept: [file: string] }>()
const project = useProject()

const name = ref('')
const silent = ref<string[]>([])
const plugins = computed(() => project.info?.plugins.map((each) => each.name) ?? [])
const plugin = ref(props.plugin ?? plugins.value[0] ?? '')
const offer = shallowRef<KeptTest | null>(null)
const { error, busy, attempt } = useAttempt()

const write = () =>
  attempt(async () => {
    offer.value = null
    offer.value = await props.make({ name: name.value.trim(), plugin: plugin.value, silent: silent.value })
  })
const keep = () =>
  attempt(async () => {
    const { files } = offer.value!
    // All of them are new.
    const from = Object.fromEntries(Object.keys(files).map((path) => [path, null]))
    await project.take(await api.putFiles(files, from))
    emit('kept', offer.value!.file)
  })
const missed = computed(() => offer.value?.notices.filter((each) => !each.fails).map((each) => each.without) ?? [])
</script>

<template>
  <aside class="keep scroll line-l" aria-label="Save as test">
    <header class="row">
      <strong>Save as test</strong><span class="fill" />
      <v-btn @click="emit('close')">Close</v-btn>
    </header>
    <form @submit.prevent="write">
      <v-text-field label="Test name" v-model="name" :placeholder="example" />
      <v-select v-if="!fixed" label="Plugin" v-model="plugin" :items="plugins" />
      <fieldset v-if="slept?.length">
        <legend>Hooks that must be skipped</legend>
        <v-checkbox v-for="each in slept" :key="each" v-model="silent" :value="each" :label="each" />
      </fieldset>
      <BusyButton variant="outlined" color="primary" type="submit" :busy="busy && !offer" :disabled="name.trim() === ''"
        >Create test</BusyButton
      >
    </form>
    <ErrorNote v-if="error" :error="error.report" />
    <template v-if="offer">
      <p v-if="offer.failure" class="refused">× The test fails: {{ offer.failure }}</p>
      <p v-else role="status">
        It passes<template v-if="offer.notices.length > missed.length"
          >, and fails without
          {{
            offer.notices
              .filter((each) => each.fails)
              .map((each) => each.without)
              .join(', ')
          }}</template
        >.
        <span v-if="missed.length" class="copper"
          >It still passes when {{ missed.join(', ') }} is {{ fixed ? 'removed' : 'off' }}.</span
        >
      </p>
      <BusyButton variant="flat" color="primary" :busy="busy" :disabled="offer.failure !== null" @click="keep"
        >Save test</BusyButton
      >
      <FoldBox v-for="(text, path) in offer.files" :key="path" :title="path" :open="path === offer.file">
        <pre class="scroll">{{ text }}</pre>
      </FoldBox>
    </template>
  </aside>
</template>

<style scoped>
.keep {
  width: 380px;
  flex: none;
  height: 100%;
  padding: 8px 12px 16px;
  background: rgb(var(--v-theme-background));
}
form {
  display: grid;
  gap: 8px;
  padding: 8px 0;
}
fieldset {
  border: 0;
  padding: 0;
}
pre {
  font-family: var(--mono);
  font-size: 12px;
  padding: 6px 0;
  max-height: 320px;
}
</style>

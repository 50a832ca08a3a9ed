<script setup lang="ts">
import type { KeepTest as KeepTestWish, KeptTest } from '@patient-hook/contract'
import { computed, ref, shallowRef } from 'vue'
import BusyButton from './BusyButton.vue'
import ErrorNote from './ErrorNote.vue'
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
    await project.take(await api.putFiles(offer.value!.files))
    emit('kept', offer.value!.file)
  })
const missed = computed(() => offer.value?.notices.filter((each) => !each.fails).map((each) => each.without) ?? [])
</script>

<template>
  <aside class="keep scroll line-l" aria-label="Keep as a test">
    <header class="row">
      <strong>Keep as a test</strong><span class="fill" />
      <v-btn size="small" @click="emit('close')">Close</v-btn>
    </header>
    <form @submit.prevent="write">
      <label>What it shows<input v-model="name" type="search" :placeholder="example" /></label>
      <label v-if="!fixed"
        >Plugin
        <select v-model="plugin">
          <option v-for="each in plugins" :key="each" :value="each">{{ each }}</option>
        </select>
      </label>
      <fieldset v-if="slept?.length">
        <legend>Hooks that must not run</legend>
        <label v-for="each in slept" :key="each" class="check"
          ><input v-model="silent" type="checkbox" :value="each" /> {{ each }}</label
        >
      </fieldset>
      <BusyButton variant="outlined" color="primary" type="submit" :busy="busy && !offer" :disabled="name.trim() === ''"
        >Write it and try it</BusyButton
      >
    </form>
    <ErrorNote v-if="error" :error="error.report" />
    <template v-if="offer">
      <p v-if="offer.failure" class="refused">× It fails as it stands: {{ offer.failure }}</p>
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
          >It does not notice when {{ missed.join(', ') }} is {{ fixed ? 'taken out' : 'off' }}.</span
        >
      </p>
      <BusyButton variant="flat" color="primary" :busy="busy" :disabled="offer.failure !== null" @click="keep"
        >Keep it</BusyButton
      >
      <details v-for="(text, path) in offer.files" :key="path" :open="path === offer.file">
        <summary class="mono small">{{ path }}</summary>
        <pre class="scroll">{{ text }}</pre>
      </details>
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
form > label {
  display: grid;
  gap: 2px;
}
fieldset {
  border: 0;
  padding: 0;
}
.check {
  display: block;
}
pre {
  font-family: var(--mono);
  font-size: 12px;
  padding: 6px 0;
  max-height: 320px;
}
details {
  margin-top: 8px;
}
</style>

<script setup lang="ts">
import { RECIPES } from '@patient-hook/core/recipes'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import PanelSwitch from '../../../components/PanelSwitch.vue'
import { useProject } from '../../../stores/project'
import RecipeInputs from './RecipeInputs.vue'
import { EMPTY, useNewHook } from './use-new-hook'

/** A new hook, from a recipe with its test, or empty. Its effect is shown before anything is saved. */
const props = defineProps<{ table: string; plugin: string }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const project = useProject()
const { table, plugin, recipe, answers, name, nameProblem, chosen, request, problem, written, create } = useNewHook({
  table: props.table,
  plugin: props.plugin || 'main',
})
const PANELS = { hook: 'Hook', test: 'Test' } as const
const panel = ref<keyof typeof PANELS>('hook')
const tables = computed(() => project.tables.map((each) => ({ value: each.name, title: each.label })))
const plugins = computed(() => (project.info?.plugins ?? []).map((each) => each.name))

async function submit(): Promise<void> {
  if (problem.value !== null) return
  const hook = await create()
  open.value = false
  await router.push({ name: 'write', params: { hook } })
}
</script>

<template>
  <v-dialog v-model="open" max-width="960" aria-label="New hook">
    <v-card title="New hook">
      <v-form class="parts" aria-label="New hook" @submit.prevent="submit">
        <v-list
          class="recipes"
          aria-label="Recipes"
          :selected="[recipe]"
          role="listbox"
          mandatory
          color="primary"
          @update:selected="(names: unknown) => (recipe = (names as string[])[0] ?? EMPTY)"
        >
          <v-list-item v-for="each in RECIPES" :key="each.name" :value="each.name" :title="each.title" />
          <v-list-item :value="EMPTY" title="Empty hook" />
        </v-list>
        <div class="form">
          <p class="quiet">{{ chosen?.description ?? 'A hook that does nothing yet.' }}</p>
          <v-select v-model="table" label="Table" :items="tables" />
          <RecipeInputs
            v-if="chosen && request"
            :recipe="chosen"
            :request="request"
            @answer="(input, value) => (answers = { ...answers, [input]: value })"
          />
          <v-text-field v-model.trim="name" label="Name" :error-messages="nameProblem ?? []" />
          <v-combobox v-model="plugin" label="Plugin" :items="plugins" />
        </div>
        <div class="code">
          <template v-if="written">
            <PanelSwitch v-model="panel" :panels="PANELS" label="Generated code" />
            <pre class="mono small scroll" tabindex="0" :aria-label="PANELS[panel]">{{ written[panel] }}</pre>
          </template>
          <p v-else class="quiet small">{{ chosen ? `${problem}` : 'The code starts with an empty hook.' }}</p>
        </div>
        <v-card-actions class="actions">
          <span class="fill quiet small">Nothing is saved yet: the hook opens as a draft with its effect on real rows.</span>
          <v-btn @click="open = false">Cancel</v-btn>
          <v-btn variant="flat" color="primary" type="submit" :disabled="problem !== null">Create hook</v-btn>
        </v-card-actions>
      </v-form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: 210px 270px minmax(0, 1fr);
  grid-template-rows: minmax(0, 440px) auto;
  gap: 0 16px;
  padding: 0 16px;
}
.recipes {
  overflow: auto;
}
.form {
  display: grid;
  gap: 10px;
  align-content: start;
  padding-top: 6px;
  overflow: auto;
}
.code {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.code pre {
  padding: 8px;
  border: 1px solid rgb(var(--v-theme-line));
}
.actions {
  grid-column: 1 / -1;
}
</style>

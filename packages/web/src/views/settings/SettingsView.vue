<script setup lang="ts">
import { textRevision } from '@patient-hook/contract/text-revision'
import { BUDGETS } from '@patient-hook/contract/limits'
import { computed, onMounted, ref, watch } from 'vue'
import BusyButton from '../../components/BusyButton.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import IconButton from '../../components/IconButton.vue'
import PlainTable from '../../components/grid/PlainTable.vue'
import { api } from '../../lib/api'
import { RELEASE_CHECKS, settingsOf, withSettings, type Settings } from '../../lib/project-settings'
import { useAttempt } from '../../lib/use-attempt'
import { useConfirmation } from '../../stores/confirmation'
import { useNotices } from '../../stores/notices'
import { useProject } from '../../stores/project'
import { ICONS } from '../../theme/icons'

/** What holds for the whole project: title, users, sequences, budgets and release checks. They apply to saves at once. */
const FILE = 'project.json'
const project = useProject()
const confirmation = useConfirmation()
const notices = useNotices()
const { error, attempt } = useAttempt()
const text = ref<string | null>(null)
const settings = ref<Settings | null>(null)
const busy = ref(false)

const changed = computed(
  () =>
    text.value !== null && settings.value !== null && JSON.stringify(settings.value) !== JSON.stringify(settingsOf(text.value)),
)
async function load(): Promise<void> {
  await attempt(async () => {
    text.value = (await api.file(FILE)).text
    settings.value = settingsOf(text.value)
  })
}
onMounted(load)
// Settings that are being edited are not replaced; saving them reports the conflict.
watch(
  () => project.version,
  () => changed.value || load(),
)

async function save(): Promise<void> {
  if (!settings.value || text.value === null) return
  const [before, next] = [text.value, withSettings(text.value, settings.value)]
  busy.value = true
  await attempt(async () => {
    await project.take(await api.putFiles({ [FILE]: next }, { [FILE]: textRevision(before) }))
    text.value = next
    settings.value = settingsOf(next)
    notices.say('Saved the project settings')
  })
  busy.value = false
}
async function discard(): Promise<void> {
  const before = settings.value
  await load()
  notices.say('Discarded the changes to the settings', () => (settings.value = before))
}
async function removeUser(index: number): Promise<void> {
  const user = settings.value!.users[index]!
  const question = {
    title: `Remove ${user.name}?`,
    text: 'Pilots of this user end when the settings are saved.',
    action: 'Remove user',
  }
  if (user.name === '' || (await confirmation.ask(question))) settings.value!.users.splice(index, 1)
}
const BUDGET_WORDS: Record<(typeof BUDGETS)[number], [label: string, hint: string]> = {
  queries: ['Queries', 'default 100 per batch'],
  rowsRead: ['Rows read', 'default 200,000 per batch'],
  rowsWritten: ['Rows written', 'default 100,000 per batch'],
  steps: ['Steps', 'default 20,000,000 per batch'],
  ripples: ['Ripple depth', 'default 8'],
  ms: ['Time (ms)', 'default 20,000'],
}
const CHECK_WORDS: Record<(typeof RELEASE_CHECKS)[number], string> = {
  model: 'Model: the code loads and fits the tables',
  types: 'Types: no TypeScript error',
  findings: 'Findings: no error',
  tests: 'Tests: all pass',
  coverage: 'Coverage: tests run as much as before',
  bulk: 'Bulk proof: every property holds or is accepted',
}
const number = (typed: string): number | null => (typed.trim() === '' || Number.isNaN(Number(typed)) ? null : Number(typed))
const isOn = (check: (typeof RELEASE_CHECKS)[number]) => !settings.value!.off.includes(check)
function setCheck(check: (typeof RELEASE_CHECKS)[number], on: boolean | null): void {
  settings.value!.off = RELEASE_CHECKS.filter((each) => (each === check ? !on : !isOn(each)))
}
</script>

<template>
  <div class="scroll page" tabindex="0" aria-label="Project settings">
    <v-form v-if="settings" class="form" aria-label="Project settings" @submit.prevent="save">
      <div class="row bar">
        <h2 class="fill">Project settings</h2>
        <v-btn v-if="changed" @click="discard">Discard changes</v-btn>
        <BusyButton variant="flat" color="primary" type="submit" :disabled="!changed" :busy="busy">Save settings</BusyButton>
      </div>
      <p class="quiet small">Settings apply to the working copy and to live saves as soon as you save them.</p>
      <ErrorNote v-if="error" :error="error.report" />
      <v-text-field v-model="settings.title" label="Title" class="mt-2" />

      <h3>Users</h3>
      <PlainTable label="Users">
        <thead>
          <tr>
            <th scope="col">name</th>
            <th scope="col">full name</th>
            <th scope="col"><span class="d-sr-only">actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(user, index) in settings.users" :key="index">
            <td><v-text-field v-model.trim="user.name" :aria-label="`Name of user ${index + 1}`" /></td>
            <td><v-text-field v-model="user.title" :aria-label="`Full name of user ${index + 1}`" /></td>
            <td><IconButton :icon="ICONS.close" :label="`Remove user ${user.name}`" @click="removeUser(index)" /></td>
          </tr>
        </tbody>
      </PlainTable>
      <v-btn variant="outlined" :prepend-icon="ICONS.add" @click="settings.users.push({ name: '', title: '' })">Add user</v-btn>

      <h3>Sequences</h3>
      <p class="quiet small">
        A hook takes the next number with <code>next('name')</code>. For one series per kind, create one sequence per kind and
        call <code>next(row.now.kind)</code>.
      </p>
      <PlainTable v-if="settings.sequences.length > 0" label="Sequences">
        <thead>
          <tr>
            <th scope="col">name</th>
            <th scope="col">prefix</th>
            <th scope="col">digits</th>
            <th scope="col">start</th>
            <th scope="col">first number</th>
            <th scope="col"><span class="d-sr-only">actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(each, index) in settings.sequences" :key="index">
            <td><v-text-field v-model.trim="each.name" :aria-label="`Name of sequence ${index + 1}`" /></td>
            <td><v-text-field v-model="each.prefix" :aria-label="`Prefix of ${each.name}`" /></td>
            <td>
              <v-text-field
                :model-value="each.digits ?? ''"
                inputmode="numeric"
                :aria-label="`Digits of ${each.name}`"
                @update:model-value="each.digits = number($event)"
              />
            </td>
            <td>
              <v-text-field
                :model-value="each.start ?? ''"
                inputmode="numeric"
                :aria-label="`Start of ${each.name}`"
                @update:model-value="each.start = number($event)"
              />
            </td>
            <td class="mono">{{ each.prefix }}{{ String(each.start ?? 1).padStart(each.digits ?? 1, '0') }}</td>
            <td>
              <IconButton
                :icon="ICONS.close"
                :label="`Remove sequence ${each.name}`"
                @click="settings.sequences.splice(index, 1)"
              />
            </td>
          </tr>
        </tbody>
      </PlainTable>
      <v-btn
        variant="outlined"
        :prepend-icon="ICONS.add"
        @click="settings.sequences.push({ name: '', prefix: '', digits: null, start: null })"
        >Add sequence</v-btn
      >

      <h3>Saves</h3>
      <div class="grid">
        <v-text-field
          label="Batch size (rows)"
          :model-value="settings.batchSize ?? ''"
          inputmode="numeric"
          hint="default 500"
          persistent-hint
          @update:model-value="settings.batchSize = number($event)"
        />
        <v-text-field
          v-for="budget in BUDGETS"
          :key="budget"
          :label="`Budget: ${BUDGET_WORDS[budget][0]}`"
          :model-value="settings.budgets[budget] ?? ''"
          inputmode="numeric"
          :hint="BUDGET_WORDS[budget][1]"
          persistent-hint
          @update:model-value="settings.budgets[budget] = number($event)"
        />
      </div>

      <h3>Release checks</h3>
      <v-switch
        v-for="check in RELEASE_CHECKS"
        :key="check"
        :model-value="isOn(check)"
        :label="CHECK_WORDS[check]"
        @update:model-value="setCheck(check, $event)"
      />
      <v-text-field
        v-if="isOn('coverage')"
        class="short"
        label="Least coverage (%)"
        :model-value="settings.coverage ?? ''"
        inputmode="numeric"
        hint="empty: coverage must not fall"
        persistent-hint
        @update:model-value="settings.coverage = number($event)"
      />
    </v-form>
    <ErrorNote v-else-if="error" :error="error.report" />
    <v-skeleton-loader v-else type="heading, table-tbody" />
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  padding: 12px 20px 32px;
}
.form {
  max-width: 860px;
}
.bar {
  position: sticky;
  top: -12px;
  z-index: 2;
  padding: 8px 0;
  background: rgb(var(--v-theme-background));
}
h2 {
  font-size: 17px;
}
h3 {
  margin: 20px 0 6px;
  font-size: 15px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 12px;
}
.short {
  max-width: 220px;
}
td {
  padding: 3px 6px 3px 0 !important;
}
</style>

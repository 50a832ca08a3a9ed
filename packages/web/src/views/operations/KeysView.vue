<script setup lang="ts">
import type { ApiKey, ApiScope } from '@patient-hook/contract'
import { onMounted, ref, shallowRef } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { api } from '../../lib/api'
import { useAttempt } from '../../lib/use-attempt'
import { timeWord } from '../../lib/times'
import { useConfirmation } from '../../stores/confirmation'
import { useNotices } from '../../stores/notices'
import { useProject } from '../../stores/project'
import { titleOf } from '../release/words'
import OperationsPage from './OperationsPage.vue'
import PlainTable from '../../components/grid/PlainTable.vue'
import MomentText from '../../components/MomentText.vue'

/** Keys by which other programs come in: made here, shown once, revoked. */
const project = useProject()
const confirmation = useConfirmation()
const notices = useNotices()
const keys = shallowRef<readonly ApiKey[] | null>(null)
const { error, attempt } = useAttempt()
const made = shallowRef<{ name: string; key: string } | null>(null)
const name = ref('')
const user = ref(project.user)
const scope = ref<ApiScope>('save')
const SCOPES: Record<ApiScope, string> = { read: 'read records', save: 'read and save records' }

const load = () => attempt(async () => void (keys.value = (await api.keys()).keys))
onMounted(load)
const make = () =>
  attempt(async () => {
    const { key } = await api.makeKey({ name: name.value, user: user.value, scope: scope.value, madeBy: project.user })
    made.value = { name: name.value, key }
    name.value = ''
    keys.value = (await api.keys()).keys
  })
async function revoke({ id, name }: ApiKey): Promise<void> {
  const text = 'Programs that use this key lose access at once. A revoked key cannot be restored.'
  if (!(await confirmation.ask({ title: `Revoke ${name}?`, text, action: 'Revoke key' }))) return
  await attempt(async () => {
    keys.value = (await api.revokeKey(id)).keys
    notices.say(`Revoked ${name}`)
  })
}
const copy = () => navigator.clipboard.writeText(made.value!.key)
</script>

<template>
  <OperationsPage>
    <div class="column view scroll fill" tabindex="0" aria-label="API keys">
      <h2>API keys</h2>
      <p class="quiet">
        Other programs use the HTTP API at <code>/api/v1</code> with a key. A key reads and saves records as a user, with the
        releases that this user gets. <a class="link" href="/api/openapi-v1.json" target="_blank">The API reference</a> is OpenAPI
        3.1, with a schema for each table.
      </p>
      <ErrorNote v-if="error" :error="error.report" />
      <form class="row" aria-label="New key" @submit.prevent="make">
        <v-text-field label="Name" v-model.trim="name" placeholder="the scale in bay 3" />
        <v-select
          label="User"
          v-model="user"
          :items="(project.info?.users ?? []).map((each) => ({ value: each.name, title: each.title }))"
        />
        <v-select
          label="Permission"
          v-model="scope"
          :items="Object.entries(SCOPES).map(([each, word]) => ({ value: each, title: word }))"
        />
        <v-btn variant="flat" color="primary" type="submit" :disabled="name === ''">Create key</v-btn>
      </form>
      <div v-if="made" class="made" role="status">
        <strong>{{ made.name }}</strong>
        <code data-test="key">{{ made.key }}</code>
        <v-btn variant="outlined" @click="copy">Copy</v-btn>
        <v-btn variant="outlined" @click="made = null">Done</v-btn>
        <p class="copper small">Copy the key now. It is not shown again, because only its hash is stored.</p>
      </div>
      <EmptyState v-if="keys?.length === 0" title="No keys yet"
        >Create one key per program, so you can revoke each one separately.</EmptyState
      >
      <PlainTable label="API keys" v-else-if="keys">
        <thead>
          <tr>
            <th scope="col">name</th>
            <th scope="col">user</th>
            <th scope="col">permission</th>
            <th scope="col">created</th>
            <th scope="col">last used</th>
            <th scope="col"><span class="quiet">to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="key in keys" :key="key.id">
            <td>
              <strong>{{ key.name }}</strong>
            </td>
            <td>{{ titleOf(project.info?.users ?? [], key.user) }}</td>
            <td>{{ SCOPES[key.scope] }}</td>
            <td class="quiet"><MomentText :at="key.madeAt" /> by {{ key.madeBy }}</td>
            <td class="quiet">{{ key.usedAt ? timeWord(key.usedAt) : 'never' }}</td>
            <td>
              <span v-if="key.revokedAt" class="refused small">revoked <MomentText :at="key.revokedAt" /></span>
              <v-btn v-else variant="outlined" @click="revoke(key)">Revoke</v-btn>
            </td>
          </tr>
        </tbody>
      </PlainTable>
    </div>
  </OperationsPage>
</template>

<style scoped>
.view {
  height: 100%;
  gap: 12px;
  padding: 14px 18px;
}
.view > * {
  flex: none;
}
h2 {
  font-size: 17px;
}
.row {
  flex-wrap: wrap;
  gap: 6px 14px;
}
.made {
  padding: 8px 12px;
  border-left: 3px solid rgb(var(--v-theme-copper));
  background: rgba(var(--v-theme-copper), 0.08);
}
.made code {
  margin: 0 12px;
  overflow-wrap: anywhere;
  user-select: all;
}
.made .toggle {
  margin-right: 6px;
}
</style>

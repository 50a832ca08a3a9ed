<script setup lang="ts">
import type { ApiKey, ApiScope } from '@patient-hook/contract'
import { onMounted, ref, shallowRef } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { api } from '../../lib/api'
import { useAttempt } from '../../lib/use-attempt'
import { timeWord } from '../../lib/text'
import { useProject } from '../../stores/project'
import { titleOf } from './words'

/** Keys by which other programs come in: made here, shown once, revoked. */
const project = useProject()
const keys = shallowRef<readonly ApiKey[] | null>(null)
const { error, attempt } = useAttempt()
const made = shallowRef<{ name: string; key: string } | null>(null)
const name = ref('')
const user = ref(project.user)
const scope = ref<ApiScope>('save')
const SCOPES: Record<ApiScope, string> = { read: 'reads records', save: 'reads and saves records' }

const load = () => attempt(async () => void (keys.value = (await api.keys()).keys))
onMounted(load)
const make = () =>
  attempt(async () => {
    const { key } = await api.makeKey({ name: name.value, user: user.value, scope: scope.value, madeBy: project.user })
    made.value = { name: name.value, key }
    name.value = ''
    keys.value = (await api.keys()).keys
  })
const revoke = (id: number) => attempt(async () => void (keys.value = (await api.revokeKey(id)).keys))
const copy = () => navigator.clipboard.writeText(made.value!.key)
</script>

<template>
  <div class="column view scroll" tabindex="0" aria-label="Keys of other programs">
    <h2>Other programs</h2>
    <p class="quiet">
      A program comes in at <code>/api/v1</code> with a key: it reads and saves records as a user, with the releases that this
      user gets. <a class="link" href="/api/openapi-v1.json" target="_blank">What it can ask for</a>, with a schema for each
      table, is OpenAPI 3.1.
    </p>
    <ErrorNote v-if="error" :error="error.report" />
    <form class="row" aria-label="New key" @submit.prevent="make">
      <label>Name <input v-model.trim="name" placeholder="the scale in bay 3" aria-label="Name of the key" /></label>
      <label
        >Saves as
        <select v-model="user" aria-label="User of the key">
          <option v-for="each in project.info?.users ?? []" :key="each.name" :value="each.name">{{ each.title }}</option>
        </select></label
      >
      <label
        >May
        <select v-model="scope" aria-label="What the key may do">
          <option v-for="(word, each) in SCOPES" :key="each" :value="each">{{ word }}</option>
        </select></label
      >
      <v-btn size="small" variant="flat" color="primary" type="submit" :disabled="name === ''">Make a key</v-btn>
    </form>
    <div v-if="made" class="made" role="status">
      <strong>{{ made.name }}</strong>
      <code data-test="key">{{ made.key }}</code>
      <button type="button" class="toggle small" @click="copy">Copy</button>
      <button type="button" class="toggle small" @click="made = null">I have it</button>
      <p class="copper small">It is shown this once: only a hash of it is kept.</p>
    </div>
    <EmptyState v-if="keys?.length === 0" title="No keys yet"
      >Make one for each program, so that it can be revoked alone.</EmptyState
    >
    <table v-else-if="keys" class="plain-table">
      <thead>
        <tr>
          <th scope="col">name</th>
          <th scope="col">saves as</th>
          <th scope="col">may</th>
          <th scope="col">made</th>
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
          <td class="quiet">{{ timeWord(key.madeAt) }} by {{ key.madeBy }}</td>
          <td class="quiet">{{ key.usedAt ? timeWord(key.usedAt) : 'never' }}</td>
          <td>
            <span v-if="key.revokedAt" class="refused small">revoked {{ timeWord(key.revokedAt) }}</span>
            <button v-else type="button" class="toggle small" @click="revoke(key.id)">Revoke</button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
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

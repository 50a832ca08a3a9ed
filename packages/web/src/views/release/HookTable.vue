<script setup lang="ts">
import type { HookHour, LiveHook } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import { api } from '../../lib/api'
import { useReleases } from '../../stores/releases'
import HookChart from './HookChart.vue'
import VersionFigures from './VersionFigures.vue'
import PlainTable from '../../components/grid/PlainTable.vue'

/** The hooks that run on saves: since when, how they are doing, and the switch of each. */
const props = defineProps<{ plugin: string }>()
const releases = useReleases()
const hooks = computed(() => releases.overview?.hooks.filter((hook) => hook.plugin === props.plugin) ?? [])
const wanted = ref<string | null>(null)
const chosen = computed(() => hooks.value.find(({ hook }) => hook === wanted.value) ?? hooks.value[0])
const hours = shallowRef<readonly HookHour[]>([])
const HOURS = 24
watch(
  () => [chosen.value?.hook, releases.overview] as const,
  async ([hook]) => {
    hours.value = hook === undefined ? [] : (await api.hookHours(hook, HOURS)).hours
  },
  { immediate: true },
)
const isOn = ({ switched }: LiveHook) => switched?.state !== 'off'
const milliseconds = ({ day }: LiveHook) => (day.ran === 0 ? '–' : `${(day.ms / day.ran).toFixed(2)} ms`)
</script>

<template>
  <EmptyState v-if="hooks.length === 0" title="No live hooks">Release this plugin to run its hooks on saves.</EmptyState>
  <div v-else class="column fill">
    <div class="scroll list" tabindex="0" aria-label="Live hooks">
      <PlainTable label="Live hooks">
        <thead>
          <tr>
            <th scope="col">hook</th>
            <th scope="col">version</th>
            <th scope="col" title="The file has not changed since this version">unchanged since</th>
            <th scope="col" title="Rows it ran for in the last day">ran</th>
            <th scope="col">refused</th>
            <th scope="col">failed</th>
            <th scope="col" title="Time for each row it ran for">time per row</th>
            <th scope="col">on saves</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in hooks" :key="each.hook" :class="{ chosen: each.hook === chosen?.hook }">
            <td>
              <v-btn class="link" :aria-current="each.hook === chosen?.hook" @click="wanted = each.hook">
                {{ each.hook }}
              </v-btn>
            </td>
            <td>{{ each.version ?? 'pilots only' }}</td>
            <td class="quiet">{{ each.since ?? '–' }}</td>
            <td class="number">{{ each.day.ran.toLocaleString('en') }}</td>
            <td class="number">{{ each.day.refused.toLocaleString('en') }}</td>
            <td class="number" :class="{ refused: each.day.failed > 0 }">{{ each.day.failed.toLocaleString('en') }}</td>
            <td class="number quiet">{{ milliseconds(each) }}</td>
            <td>
              <v-switch
                class="d-inline-flex"
                role="switch"
                density="compact"
                hide-details
                color="primary"
                :model-value="isOn(each)"
                :aria-label="`${each.hook} on saves`"
                :disabled="releases.busy"
                @update:model-value="releases.switchHook(each.hook, isOn(each) ? 'off' : null)"
              />
              <span
                v-if="each.paused"
                class="refused small"
                :title="`It stopped the engine ${each.paused.stops} times, so saves that need it are refused. The next attempt is at ${each.paused.nextTry}.`"
              >
                paused
              </span>
              <span v-if="each.switched" class="quiet small by">by {{ each.switched.user }}</span>
            </td>
          </tr>
        </tbody>
      </PlainTable>
    </div>
    <section v-if="chosen" class="doing line-t scroll fill" tabindex="0" :aria-label="`Performance of ${chosen.hook}`">
      <h3>{{ chosen.hook }}, the last {{ HOURS }} hours</h3>
      <p v-if="hours.length === 0" class="quiet">It has not run on a save in this period.</p>
      <template v-else>
        <VersionFigures :hours="hours" />
        <HookChart :hours="hours" :span="HOURS" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.list {
  max-height: 55%;
  padding: 4px 16px 8px;
}
.chosen {
  background: rgba(var(--v-theme-primary), 0.1);
}
.number {
  text-align: right;
}
.by {
  margin-left: 6px;
}
.doing {
  padding: 8px 16px 20px;
}
h3 {
  font-size: 14px;
}
</style>

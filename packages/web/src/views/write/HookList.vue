<script setup lang="ts">
import type { HookInfo, Table } from '@patient-hook/contract'
import { computed, ref, useTemplateRef } from 'vue'
import { contains } from '../../lib/natural'
import { useChosenInSight } from '../../lib/use-chosen-in-sight'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'
import { ICONS } from '../../theme/icons'
import { useHookBadges } from './use-hook-badges'
import NewHook from './new-hook/NewHook.vue'

/** The hooks of each table, in save-path order. */
const props = defineProps<{ chosen: string | null; ran: Record<string, number> }>()
const project = useProject()
const hooks = useHooks()
const making = defineModel<boolean>('making', { default: false })
const typed = ref('')
const list = useTemplateRef<HTMLElement>('list')
useChosenInSight(list, () => props.chosen)
const current = computed(() => (props.chosen === null ? undefined : hooks.hook(props.chosen)))

const groups = computed(() => {
  const byTable = new Map<string, HookInfo[]>()
  for (const hook of hooks.all) {
    const { name = '', label = '' } = project.table(hook.table) ?? {}
    if (!contains([hook.name, label, name], typed.value)) continue
    const list = byTable.get(hook.table)
    if (list) list.push(hook)
    else byTable.set(hook.table, [hook])
  }
  return project.tables.flatMap((table): { table: Table; hooks: HookInfo[] }[] => {
    const list = byTable.get(table.name)
    return list ? [{ table, hooks: list }] : []
  })
})

/** From so many hooks on, only the table of the chosen one is unfolded to begin with. */
const MANY = 80
const folded = ref<Record<string, boolean>>({})
const isOpen = (table: string): boolean =>
  typed.value !== '' || !(folded.value[table] ?? (hooks.all.length > MANY && table !== current.value?.table))
const fold = (table: string) => (folded.value = { ...folded.value, [table]: isOpen(table) })
const badgesOf = useHookBadges()
</script>

<template>
  <nav ref="list" class="list scroll" aria-label="Hooks">
    <v-btn class="make" variant="outlined" color="primary" :prepend-icon="ICONS.add" @click="making = true">New hook</v-btn>
    <NewHook
      v-if="making"
      v-model="making"
      :table="current?.table ?? project.tables[0]?.name ?? ''"
      :plugin="current?.plugin ?? project.info?.plugins[0]?.name ?? ''"
    />
    <v-text-field type="search" v-model="typed" class="find" placeholder="Hook or table" aria-label="Filter the hooks" />
    <p v-if="typed && groups.length === 0" class="quiet none">No hook or table matches.</p>
    <section v-for="group in groups" :key="group.table.name">
      <h3>
        <v-btn class="head" :aria-expanded="isOpen(group.table.name)" @click="fold(group.table.name)">
          <span class="turn quiet" :class="{ open: isOpen(group.table.name) }" aria-hidden="true">›</span>
          {{ group.table.label }} <span class="mono quiet">{{ group.table.name }}</span>
          <span v-if="!isOpen(group.table.name)" class="quiet count">{{ group.hooks.length }}</span>
        </v-btn>
      </h3>
      <ol v-if="isOpen(group.table.name)">
        <li v-for="(hook, index) in group.hooks" :key="hook.name">
          <div v-if="index === 0 || group.hooks[index - 1]!.moment !== hook.moment" class="moment quiet">{{ hook.moment }}</div>
          <router-link
            :to="{ name: 'write', params: { hook: hook.name } }"
            class="choice"
            :class="{ chosen: hook.name === chosen }"
          >
            <span class="name">{{ hook.name }}</span>
            <span v-if="hooks.isNew(hook.name)" class="copper small">new</span>
            <v-icon
              v-for="badge in badgesOf(hook)"
              :key="badge.says"
              :icon="badge.icon"
              :color="badge.color"
              :title="badge.says"
              :aria-label="badge.says"
              aria-hidden="false"
              role="img"
              size="15"
            />
            <span v-if="ran[hook.name]" class="copper small" :title="`ran for ${ran[hook.name]} rows`">{{ ran[hook.name] }}</span>
          </router-link>
        </li>
      </ol>
    </section>
  </nav>
</template>

<style scoped>
.list {
  height: 100%;
  padding: 4px 0 16px;
  background: rgb(var(--v-theme-background));
}
.make {
  margin: 6px 12px 2px;
}
.find {
  margin: 6px 12px 0;
}
.none {
  padding: 6px 12px;
}
h3 {
  font-size: 13px;
  font-weight: 650;
  padding-top: 4px;
}
.head {
  width: 100%;
  justify-content: start;
  padding: 0 12px;
  font-weight: 650;
}
.head :deep(.v-btn__content) {
  width: 100%;
  gap: 6px;
}
.turn {
  display: inline-block;
  width: 10px;
}
.turn.open {
  transform: rotate(90deg);
}
.count {
  margin-left: auto;
  font-weight: 400;
}
ol {
  list-style: none;
}
.moment {
  font-size: 12px;
  padding: 2px 12px;
}
a {
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 0 6px;
  padding: 3px 10px 3px 20px;
}
.name {
  overflow-wrap: anywhere;
}
</style>

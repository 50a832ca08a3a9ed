<script setup lang="ts">
import type { HookInfo, Sheet, Table } from '@patient-hook/contract'
import type { DefinitionPart, Target } from '@patient-hook/core/language'
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref, toRef, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import CodeEditor, { type LineMark } from '../../components/CodeEditor.vue'
import BusyButton from '../../components/BusyButton.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { language } from '../../language/client'
import { languageSupport } from '../../language/editor'
import { navigationKeys } from '../../language/editor-keys'
import { lineCoverage } from '../../lib/line-coverage'
import { lineValues } from '../../lib/line-values'
import { useDrafts } from '../../stores/drafts'
import { useHooks } from '../../stores/hooks'
import { useNotices } from '../../stores/notices'
import { useProofs } from '../../stores/proofs'
import CoverageStrip from './CoverageStrip.vue'
import DefinitionPanel from './DefinitionPanel.vue'
import FieldFinder from './FieldFinder.vue'
import FilePlace from './FilePlace.vue'
import FileTabs from './FileTabs.vue'
import FindingStrip from './FindingStrip.vue'
import LiveMark from './LiveMark.vue'
import { useLiveText } from './use-live-text'
import { useWrite } from './write-state'

/** The code of a hook and of what belongs to it, with what is known of each line. */
const props = defineProps<{
  hook: HookInfo
  table: Table
  sheet: Sheet | null
  /** Errors of the rehearsal, with file and line. */
  trouble: readonly { file: string; mark: LineMark }[]
  /** The line that wrote the chosen cell. */
  chosen: { file: string; line: number } | null
  testing: boolean
}>()
const emit = defineEmits<{ run: []; test: []; line: [place: { file: string; line: number }] }>()

const router = useRouter()
const drafts = useDrafts()
const notices = useNotices()
const hooks = useHooks()
const { tabs: ofTabs, loaded, report, ready, changed, saving: ofSaving } = useWrite()
const { tabs, active, more, open, close } = ofTabs
const { save, saving, error } = ofSaving
const editor = useTemplateRef<InstanceType<typeof CodeEditor>>('editor')
/** Where there is little room, the code comes first. */
const ROOM_PX = 900
const placing = ref<'lib' | 'tests' | 'remove' | null>(null)
const panelOpen = useLocalStorage('patient-hook:definition', window.innerWidth >= ROOM_PX)

const support = [
  languageSupport(() => loaded.value ?? ''),
  navigationKeys({ path: () => loaded.value ?? '', goTo: follow, rename }),
]

async function show(file: string, line: number): Promise<void> {
  if (file !== active.value) open(file)
  await drafts.open(file)
  await nextTick()
  // Another tab may have been chosen meanwhile.
  if (file === loaded.value) editor.value?.goTo(line)
}

function follow(target: Target): void {
  if (target.kind === 'model') {
    void router.push({ name: 'model', params: { table: target.table }, hash: target.field ? `#${target.field}` : '' })
    return
  }
  const { file, line } = target
  const owner = hooks.all.find((each) => each.file === file)
  if (!owner || owner.name === props.hook.name) void show(file, line)
  else void router.push({ name: 'write', params: { hook: owner.name } })
}

async function rename(offset: number, name: string): Promise<string | null> {
  const file = loaded.value
  if (!file) return null
  // The worker must know every file as edited: edits of another text would land in the wrong place.
  for (const each of new Set([file, ...tabs.value, ...drafts.changed])) await ready(each)
  const found = await language('rename', file, offset, name)
  if ('refused' in found) return found.refused
  for (const [path, edits] of Object.entries(found.edits)) {
    await drafts.open(path)
    if (path === file) editor.value?.edit(edits)
    else drafts.write(path, applyEdits(drafts.textOf(path), edits))
  }
  if (Object.keys(found.edits).length > 1) drafts.tie(Object.keys(found.edits))
  return null
}

function applyEdits(text: string, edits: readonly { start: number; end: number; text: string }[]): string {
  return [...edits]
    .sort((a, b) => b.start - a.start)
    .reduce((done, edit) => done.slice(0, edit.start) + edit.text + done.slice(edit.end), text)
}

/** A change in the form is a change of the code, wherever the code stands: open or in another tab. */
async function changeDefinition(part: DefinitionPart, value: string | string[]): Promise<void> {
  const { file } = props.hook
  await ready(file)
  const edits = await language('changeDefinition', file, part, value)
  if (file === loaded.value) editor.value?.edit(edits)
  else drafts.write(file, applyEdits(drafts.textOf(file), edits))
  await readOutline(file)
}

// Beside a module of lib or a test the form still is the hook's.
async function readOutline(file: string): Promise<void> {
  await ready(file)
  hooks.note(file, await language('outline', file))
}
watch(() => props.hook.file, readOutline, { immediate: true })
const outline = computed(() => hooks.outlineOf(props.hook.file))
const reading = computed(() => !hooks.isRead(props.hook.file))
const values = computed(() => (props.sheet && loaded.value ? lineValues(props.sheet.lines, loaded.value, props.hook.name) : []))
const liveText = useLiveText(
  toRef(() => props.hook.plugin),
  loaded,
)
const proofs = useProofs()
/** Of the open file, where unit tests have run on the code as it stands. */
const covered = computed(
  () =>
    proofs.parts.coverage.results?.flatMap((each) =>
      'covered' in each && each.covered.file === loaded.value ? [each.covered] : [],
    )[0],
)
const coverage = computed(() => (covered.value ? lineCoverage(covered.value) : []))
const cursor = ref(1)
function moveCursor(line: number): void {
  cursor.value = line
  emit('line', { file: loaded.value!, line })
}
const chosenLine = computed(() => (props.chosen && props.chosen.file === loaded.value ? props.chosen.line : null))
watch(chosenLine, (line) => {
  if (line !== null) editor.value?.reveal(line)
})
const marks = computed<LineMark[]>(() => [
  ...[...report.value.diagnostics, ...report.value.findings].map(({ line, message, severity, start, end }): LineMark => ({
    line,
    message,
    severity: severity === 'hint' ? 'info' : severity,
    start,
    end,
  })),
  ...props.trouble.filter((each) => each.file === loaded.value).map((each) => each.mark),
])

/** Problems are counted on the Save button. */
const saveWord = computed(() => {
  const count = report.value.findings.length + report.value.diagnostics.length
  const word = changed.value.length > 1 ? `Save ${changed.value.length} files` : 'Save hook'
  return changed.value.length > 0 && count > 0 ? `${word}, ${count} ${count === 1 ? 'problem' : 'problems'}` : word
})

function discard(): void {
  const isNew = hooks.isNew(props.hook.name)
  const texts = changed.value.map((file) => [file, drafts.textOf(file)] as const)
  for (const [file] of texts) drafts.discard(file)
  notices.say(`Discarded the changes to ${props.hook.name}`, () => {
    for (const [file, text] of texts)
      if (isNew) drafts.create(file, text)
      else drafts.write(file, text)
  })
  if (isNew) void router.push({ name: 'write', params: { hook: '' } })
}
defineExpose({ show })
</script>

<template>
  <div class="column pane">
    <div class="bar line-b">
      <strong>{{ hook.name }}</strong>
      <span v-if="hooks.isNew(hook.name)" class="copper small">new</span>
      <span class="mono quiet small file">{{ loaded }}</span>
      <span class="fill" />
      <FieldFinder :table="table" @insert="(field) => editor?.insert(field)" />
      <v-btn variant="outlined" :active="panelOpen" :aria-pressed="panelOpen" @click="panelOpen = !panelOpen">Definition</v-btn>
      <span v-if="changed.length" class="copper small">unsaved</span>
      <LiveMark v-else :file="loaded" :plugin="hook.plugin" />
      <v-btn v-if="changed.length" @click="discard">Discard</v-btn>
      <BusyButton :busy="testing" title="Ctrl+Shift+Enter" @click="emit('test')">Run tests</BusyButton>
      <BusyButton variant="flat" color="primary" :disabled="changed.length === 0" :busy="saving" title="Ctrl+S" @click="save">{{
        saveWord
      }}</BusyButton>
    </div>
    <FileTabs :tabs="tabs" :active="active" :more="more" @open="open" @close="close" @change="(what) => (placing = what)" />
    <FilePlace v-if="placing" :what="placing" :plugin="hook.plugin" :file="active" :made="open" @close="placing = null" />
    <ErrorNote v-if="error" :error="error.report" />
    <div class="code fill">
      <CodeEditor
        v-if="loaded"
        ref="editor"
        class="fill"
        :path="loaded"
        :text="drafts.textOf(loaded)"
        :marks="marks"
        :values="values"
        :coverage="coverage"
        :live="liveText()"
        :chosen-line="chosenLine"
        :extensions="support"
        @change="drafts.write"
        @save="save"
        @run="emit('run')"
        @test="emit('test')"
        @line="moveCursor"
      />
      <DefinitionPanel
        v-if="panelOpen"
        :hook="hook"
        :table="table"
        :outline="outline"
        :reading="reading"
        @change="changeDefinition"
      />
    </div>
    <CoverageStrip v-if="covered" :line="cursor" :coverage="coverage.find((each) => each.line === cursor)" />
    <FindingStrip :report="report" @go="(line) => editor?.goTo(line)" @fix="(finding) => editor?.edit(finding.fix!.edits)" />
  </div>
</template>

<style scoped>
.pane {
  height: 100%;
}
.bar {
  display: flex;
  align-items: center;
  gap: 4px 8px;
  padding: 3px 8px 3px 12px;
  background: rgb(var(--v-theme-surface));
}
.bar > :not(.file):not(.fill) {
  flex-shrink: 0;
}
.file {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
/* In a narrow window the buttons need a second line. */
@media (max-width: 1000px) {
  .bar {
    flex-wrap: wrap;
  }
}
.code {
  display: flex;
  min-height: 0;
}
</style>

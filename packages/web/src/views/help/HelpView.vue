<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import ValueMark from '../../components/ValueMark.vue'
import { KIND_WORD } from '../../lib/text'
import { useTour } from '../../stores/tour'
import { ICONS } from '../../theme/icons'
import { PAGES, search } from './pages'

/** The documentation within the application, searchable, with a legend of the marks that grids show. */
const route = useRoute()
const router = useRouter()
const tour = useTour()
const text = ref('')
const found = computed(() => search(text.value))
const page = computed(() => PAGES.find(({ name }) => name === (route.params['page'] || PAGES[0]?.name)))
const body = useTemplateRef<HTMLElement>('body')
watch(
  () => [page.value, route.hash] as const,
  async ([, hash]) => {
    await nextTick()
    const target = hash === '' ? null : document.getElementById(decodeURIComponent(hash.slice(1)))
    if (target) target.scrollIntoView({ block: 'start' })
    else body.value?.scrollTo({ top: 0 })
  },
  { immediate: true, flush: 'post' },
)
/** Links within the documentation stay within the page. */
function follow(event: MouseEvent): void {
  const href = (event.target as HTMLElement).closest('a')?.getAttribute('href')
  if (!href) return
  event.preventDefault()
  void router.push(href)
}
</script>

<template>
  <div class="help">
    <nav class="side line-r scroll" aria-label="Help pages">
      <v-text-field
        type="search"
        v-model="text"
        class="ma-2"
        placeholder="Search help"
        aria-label="Search help"
        :prepend-inner-icon="ICONS.search"
      />
      <v-list v-if="text" role="group" aria-label="Search results">
        <v-list-item
          v-for="section in found"
          :key="`${section.page} ${section.anchor}`"
          :title="section.title"
          :subtitle="section.page"
          :to="{ name: 'help', params: { page: section.page }, hash: `#${section.anchor}` }"
        />
        <v-list-item v-if="found.length === 0" title="No results" subtitle="Try another word." />
      </v-list>
      <v-list v-else role="group" aria-label="Pages">
        <v-list-item
          v-for="{ name, title } in PAGES"
          :key="name"
          :title="title"
          :active="name === page?.name"
          color="primary"
          :to="{ name: 'help', params: { page: name } }"
        />
      </v-list>
      <section class="legend small">
        <v-btn variant="outlined" block class="mb-3" @click="tour.goTo(0)">Start tour</v-btn>
        <strong>Value marks</strong>
        <p v-for="(word, kind) in KIND_WORD" :key="kind"><ValueMark :kind="kind" /> {{ word }}</p>
      </section>
    </nav>
    <EmptyState v-if="!page" title="No such page">Choose a page on the left.</EmptyState>
    <!-- eslint-disable-next-line vue/no-v-html -- rendered from the documentation that ships with the application -->
    <article
      v-else
      ref="body"
      class="text scroll fill"
      tabindex="0"
      :aria-label="page.title"
      @click="follow"
      v-html="page.html"
    />
  </div>
</template>

<style scoped>
.help {
  display: flex;
  height: 100%;
  min-height: 0;
}
.side {
  width: 250px;
  flex: none;
}
.legend {
  padding: 8px 16px;
}
.text {
  padding: 16px 28px 40px;
}
.text > :deep(*) {
  max-width: 82ch;
}
.text :deep(:is(h1, h2, h3)) {
  margin: 20px 0 6px;
  line-height: 1.25;
}
.text :deep(:is(p, ul, ol, table, pre)) {
  margin: 8px 0;
}
.text :deep(:is(ul, ol)) {
  padding-left: 22px;
}
.text :deep(pre) {
  padding: 8px 12px;
  overflow: auto;
  background: rgb(var(--v-theme-surface));
  border: 1px solid rgb(var(--v-theme-line));
}
.text :deep(:is(th, td)) {
  text-align: left;
  vertical-align: top;
  padding: 3px 12px 3px 0;
  border-bottom: 1px solid rgb(var(--v-theme-line));
}
.text :deep(a) {
  color: rgb(var(--v-theme-primary));
}
</style>

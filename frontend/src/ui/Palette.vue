<script setup lang="ts">
import { useDebounce } from '@vueuse/core'
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { itemPageQuery, poolsQuery, quizzesQuery } from '@/api/queries'

import { activeShortcuts, useShortcuts } from './shortcuts'
import { useCourse } from './useCourse'

interface Entry {
  label: string
  kind: string
  run: () => void
}

const course = useCourse()
const router = useRouter()
const open = ref(false)
const text = ref('')
const typed = useDebounce(text, 120)
const chosen = ref(0)
const field = ref<{ focus: () => void }>()

const { data: pools } = useQuery(computed(() => ({ ...poolsQuery(course.value), enabled: open.value })))
const { data: quizzes } = useQuery(computed(() => ({ ...quizzesQuery(course.value), enabled: open.value })))
const { data: items } = useQuery(
  computed(() => ({
    ...itemPageQuery(course.value, { query: typed.value }, 0),
    enabled: open.value && typed.value.length > 1,
  })),
)

const entries = computed<Entry[]>(() => {
  const wanted = text.value.toLowerCase()
  const go =
    (name: string, query: Record<string, string> = {}, params: Record<string, number> = {}) =>
    () =>
      void router.push({ name, params: { course: course.value, ...params }, query })
  const fixed: Entry[] = [
    ...activeShortcuts().map((s) => ({ label: s.label, kind: s.keys, run: s.run })),
    ...(pools.value ?? []).map((p) => ({ label: p.name, kind: 'pool', run: go('pools', { pool: String(p.id) }) })),
    ...(quizzes.value ?? []).map((q) => ({ label: q.title, kind: 'quiz', run: go('quiz', {}, { quiz: q.id }) })),
  ].filter((entry) => entry.label.toLowerCase().includes(wanted))
  const found = (items.value?.rows ?? [])
    .slice(0, 12)
    .map((row) => ({ label: row.text, kind: 'item', run: go('pools', { q: text.value, item: String(row.id) }) }))
  return [...fixed.slice(0, wanted ? 12 : 20), ...(wanted.length > 1 ? found : [])]
})

watch(text, () => (chosen.value = 0))

function show(): void {
  open.value = true
  text.value = ''
  void nextTick(() => field.value?.focus())
}

function take(entry: Entry | undefined): void {
  open.value = false
  entry?.run()
}

function step(by: number): void {
  chosen.value = Math.min(Math.max(0, chosen.value + by), entries.value.length - 1)
}

useShortcuts([
  { keys: 'Ctrl+k', label: 'Find a pool, an item or a command', group: 'Everywhere', run: show, inFields: true },
  { keys: '/', label: 'Search', group: 'Everywhere', run: show },
])
</script>

<template>
  <button type="button" class="opener" @click="show">Search <kbd>Ctrl k</kbd></button>
  <ElDialog v-model="open" width="620" :show-close="false" title="Search" class="palette">
    <ElInput
      ref="field"
      v-model="text"
      aria-label="Search"
      placeholder="A word of an item, a pool, a quiz, a command"
      @keydown.down.prevent="step(1)"
      @keydown.up.prevent="step(-1)"
      @keydown.enter.prevent="take(entries[chosen])"
    />
    <ul role="listbox" aria-label="Found">
      <li
        v-for="(entry, index) in entries"
        :key="index"
        role="option"
        :aria-selected="index === chosen"
        :class="{ chosen: index === chosen }"
        @click="take(entry)"
      >
        <span class="label">{{ entry.label }}</span>
        <span class="faint">{{ entry.kind }}</span>
      </li>
    </ul>
    <p v-if="!entries.length" class="faint">Nothing found for “{{ text }}”.</p>
  </ElDialog>
</template>

<style scoped>
.opener {
  border: 1px solid var(--rog-rule-strong);
  background: var(--rog-sheet);
  border-radius: 2px;
  font: inherit;
  color: var(--rog-ink-soft);
  padding: 3px 10px;
  cursor: pointer;
}

ul {
  list-style: none;
  margin: 12px 0 0;
  padding: 0;
  max-height: 380px;
  overflow: auto;
}

li {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 5px 8px;
  cursor: pointer;
}

li.chosen,
li:hover {
  background: var(--rog-joined);
}

.label {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>

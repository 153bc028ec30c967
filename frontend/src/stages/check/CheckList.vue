<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import { lookQuery, sourcesQuery } from '@/api/queries'
import EmptyState from '@/ui/EmptyState.vue'
import ErrorState from '@/ui/ErrorState.vue'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { items, WORDS } from '@/ui/words'

const course = useCourse()
const { data: sources, error } = useQuery(computed(() => sourcesQuery(course.value)))
const { data: look } = useQuery(computed(() => lookQuery(course.value)))
const router = useRouter()
const here = computed(() => (sources.value ?? []).filter((source) => source.reading && !source.aside))
const waiting = computed(() => here.value.filter((source) => source.waiting))
const taken = computed(() => here.value.filter((source) => !source.waiting))
const flagged = computed(() => (look.value ?? []).reduce((sum, entry) => sum + entry.positions.length, 0))

/** The first item of all that needs a look. */
function first(): void {
  const entry = look.value?.[0]
  if (!entry) return
  const query = { item: String(entry.positions[0]) }
  void router.push({ name: 'reading', params: { course: course.value, reading: entry.reading }, query })
}
useShortcuts([{ keys: 'n', label: 'The first item that needs a look', group: 'Check', run: first }])
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <EmptyState v-else-if="sources && !waiting.length && !taken.length" title="Nothing waits to be checked">
    <RouterLink :to="{ name: 'sources', params: { course } }">Add a source</RouterLink> first.
  </EmptyState>
  <div v-else class="page">
    <h1>Check</h1>
    <p class="soft">
      {{
        waiting.length
          ? 'These readings wait. Open one to see its source and its items side by side.'
          : 'Everything was taken.'
      }}
    </p>
    <!-- It has its place before it is counted, so that the list below does not move under the pointer. -->
    <p v-if="waiting.length">
      <span v-if="!look" class="faint">Counting what needs a look…</span>
      <span v-else-if="!flagged" class="faint">Nothing in them needs a look.</span>
      <button v-else type="button" class="link-button signal" @click="first">
        {{ flagged }} {{ flagged === 1 ? 'item needs' : 'items need' }} a look, in {{ look?.length }}
        {{ look?.length === 1 ? 'source' : 'sources' }} <kbd>n</kbd>
      </button>
    </p>
    <ul>
      <li v-for="source in waiting" :key="source.id">
        <RouterLink :to="{ name: 'reading', params: { course, reading: source.reading } }">{{
          source.name
        }}</RouterLink>
        <span class="soft">{{ items(source.waiting ?? 0) }} to check, {{ WORDS.formats[source.format ?? ''] }}</span>
        <span v-if="source.worst?.error" class="error">{{ source.worst.error }} with errors</span>
        <span v-if="source.worst?.warning" class="warning">{{ source.worst.warning }} with warnings</span>
      </li>
    </ul>
    <template v-if="taken.length">
      <h2>Taken already</h2>
      <ul>
        <li v-for="source in taken" :key="source.id">
          <RouterLink :to="{ name: 'reading', params: { course, reading: source.reading } }">{{
            source.name
          }}</RouterLink>
          <span class="faint">{{ items(source.items ?? 0) }}</span>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.page {
  padding: 24px;
  max-width: 860px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 14px 0 30px;
}

li {
  display: flex;
  gap: 18px;
  align-items: baseline;
  padding: 9px 0;
  border-bottom: 1px solid var(--rog-rule);
}

li a {
  font: 17px var(--rog-serif);
  flex: 1;
}

.error,
.signal {
  color: var(--rog-signal);
}

.warning {
  color: var(--rog-caution);
}
</style>

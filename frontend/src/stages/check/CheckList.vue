<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { sourcesQuery } from '@/api/queries'
import EmptyState from '@/ui/EmptyState.vue'
import ErrorState from '@/ui/ErrorState.vue'
import { useCourse } from '@/ui/useCourse'
import { items, WORDS } from '@/ui/words'

const course = useCourse()
const { data: sources, error } = useQuery(computed(() => sourcesQuery(course.value)))
const waiting = computed(() => (sources.value ?? []).filter((source) => source.reading && source.waiting))
const taken = computed(() => (sources.value ?? []).filter((source) => source.reading && !source.waiting))
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

.error {
  color: var(--rog-signal);
}

.warning {
  color: var(--rog-caution);
}
</style>

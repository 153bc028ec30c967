<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { asked, countsQuery, keptFiltersQuery, quizzesQuery } from '@/api/queries'
import { vFocus } from '@/ui/focus'
import { say, sayProblem } from '@/ui/say'

import { CONDITIONS, NONE_OF_IT, wordsOf, type Condition, type Filtering } from './useFilter'

/** The conditions of the list, each with how many items its values would leave; and filters that were kept. */
const props = defineProps<{ course: number; filtering: Filtering; open: boolean }>()
const queries = useQueryClient()
const filter = computed(() => props.filtering.filter.value)
const { data: counts } = useQuery(
  computed(() => ({
    ...countsQuery(props.course, filter.value),
    enabled: props.open,
    placeholderData: keepPreviousData,
  })),
)
const { data: quizzes } = useQuery(computed(() => quizzesQuery(props.course)))
const { data: kept } = useQuery(computed(() => keptFiltersQuery(props.course)))

interface Value {
  value: string
  words: string
  count: number | undefined
}

function valuesOf(condition: Condition): Value[] {
  const found = Object.entries(counts.value?.[condition.name] ?? {})
  const chosen = chosenOf(condition)
  const values: Value[] = found.map(([value, count]) => ({
    value,
    count,
    words: wordsOf(condition, value, quizzes.value),
  }))
  if (chosen && !found.some(([value]) => value === chosen))
    values.push({
      value: chosen,
      count: counts.value ? 0 : undefined,
      words: wordsOf(condition, chosen, quizzes.value),
    })
  const rank = (entry: Value) => (entry.value === 'any' ? 0 : entry.value === NONE_OF_IT ? 2 : 1)
  return values.sort(
    (a, b) => rank(a) - rank(b) || a.words.localeCompare(b.words, 'en', { numeric: true, sensitivity: 'base' }),
  )
}

function chosenOf(condition: Condition): string {
  const value = filter.value[condition.name]
  return value === undefined || value === null ? '' : String(value)
}

const shown = computed(() =>
  CONDITIONS.filter(({ name }) => name !== 'since').map((condition) => ({
    condition,
    chosen: chosenOf(condition),
    values: valuesOf(condition),
  })),
)
const any = computed(() => props.filtering.set.value.length > 0 || Boolean(filter.value.query))
const naming = ref(false)
const name = ref('')

const keep = useMutation({
  mutationFn: (kept: { name: string; filter: unknown }) =>
    ok(
      client.POST('/api/courses/{course_id}/filters', {
        params: { path: { course_id: props.course } },
        body: { name: kept.name, filter: kept.filter as never },
      }),
    ),
  onSuccess: async (row) => {
    naming.value = false
    name.value = ''
    say(`Kept this filter as ${row.name}.`)
    await queries.invalidateQueries({ queryKey: ['course', props.course, 'filters'] })
  },
  onError: sayProblem,
})
const forget = useMutation({
  mutationFn: (row: Schemas['KeptFilterOut']) =>
    ok(
      client.DELETE('/api/courses/{course_id}/filters/{filter_id}', {
        params: { path: { course_id: props.course, filter_id: row.id } },
      }),
    ),
  onSuccess: async (_done, row) => {
    say(`Deleted the filter ${row.name}.`, 'fact', { label: 'Undo', run: () => keep.mutate(row) })
    await queries.invalidateQueries({ queryKey: ['course', props.course, 'filters'] })
  },
  onError: sayProblem,
})
</script>

<template>
  <div v-if="open" class="conditions" role="group" aria-label="Filters">
    <label v-for="entry in shown" :key="entry.condition.name" :class="{ set: entry.chosen }">
      <span>{{ entry.condition.label }}</span>
      <select
        :value="entry.chosen"
        :aria-label="`Filter by ${entry.condition.label.toLowerCase()}`"
        @change="filtering.put(entry.condition.name, ($event.target as HTMLSelectElement).value)"
      >
        <option value="">all</option>
        <option v-for="value in entry.values" :key="value.value" :value="value.value">
          {{ value.words }}{{ value.count === undefined ? '' : ` · ${value.count.toLocaleString('en')}` }}
        </option>
      </select>
    </label>
    <label :class="{ set: filter.since }">
      <span>Changed since</span>
      <ElDatePicker
        :model-value="filter.since ?? ''"
        type="date"
        value-format="YYYY-MM-DD"
        format="D MMM YYYY"
        placeholder="any day"
        aria-label="Filter by when it was changed"
        @update:model-value="(day: string | null) => filtering.put('since', day ?? undefined)"
      />
    </label>
  </div>
  <div v-if="any || kept?.length" class="kept">
    <button
      v-for="condition in filtering.set.value"
      :key="condition.name"
      type="button"
      class="chip"
      :title="`Take the filter ${condition.label} away`"
      @click="filtering.put(condition.name, undefined)"
    >
      {{ condition.label }}: {{ wordsOf(condition, chosenOf(condition), quizzes) }} <span aria-hidden="true">×</span>
    </button>
    <template v-if="any">
      <button type="button" class="link-button" @click="filtering.clear()">Clear</button>
      <form
        v-if="naming"
        class="row"
        @submit.prevent="name.trim() && keep.mutate({ name: name.trim(), filter: asked(filter) })"
      >
        <ElInput v-model="name" v-focus size="small" aria-label="Name of the filter" placeholder="Name of the filter" />
        <ElButton size="small" native-type="submit" :disabled="!name.trim()">Keep it</ElButton>
      </form>
      <button v-else type="button" class="link-button" @click="naming = true">Keep this filter</button>
    </template>
    <span v-if="kept?.length" class="grow" />
    <span v-if="kept?.length" class="faint">Kept:</span>
    <span v-for="row in kept" :key="row.id" class="one">
      <button type="button" class="link-button" @click="filtering.show(row.filter)">{{ row.name }}</button>
      <button
        type="button"
        class="plain-button faint"
        :aria-label="`Forget the filter ${row.name}`"
        @click="forget.mutate(row)"
      >
        ×
      </button>
    </span>
  </div>
</template>

<style scoped>
.conditions {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(128px, 1fr));
  gap: 6px 12px;
  padding: 8px 14px 10px;
  border-bottom: 1px solid var(--rog-rule);
  background: var(--rog-paper);
}

label {
  display: grid;
  gap: 1px;
  min-width: 0;
  font-size: 12px;
  color: var(--rog-ink-soft);
}

label.set span {
  color: var(--rog-ink);
  font-weight: 600;
}

label.set select {
  border-color: var(--rog-ink);
}

select,
label :deep(.el-date-editor.el-input) {
  width: 100%;
  height: 27px;
  min-width: 0;
  font-size: 13px;
  text-overflow: ellipsis;
}

.kept {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
  padding: 6px 14px;
  border-bottom: 1px solid var(--rog-rule);
  font-size: 13px;
}

.kept form {
  gap: 6px;
  flex-wrap: nowrap;
}

.chip {
  appearance: none;
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  background: var(--rog-joined);
  color: var(--rog-ink);
  font: inherit;
  padding: 0 7px;
  cursor: pointer;
}

.one {
  display: inline-flex;
  gap: 4px;
}

.grow {
  flex: 1;
}
</style>

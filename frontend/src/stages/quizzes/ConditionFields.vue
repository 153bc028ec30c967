<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { countsQuery } from '@/api/queries'
import { WORDS } from '@/ui/words'

import type { Condition } from './useQuiz'

/** Which items of a pool are meant: conditions on type, outcome and difficulty, each one met or not to be met. */
const where = defineModel<Condition[]>({ required: true })
const props = defineProps<{ course: number; pool: number | null | undefined; label: string }>()

const FACETS = ['outcome', 'difficulty', 'type'] as const
const { data: counts } = useQuery(
  computed(() => countsQuery(props.course, props.pool ? { pool: props.pool, with_subpools: true } : {})),
)
const NONE = '(none)'
function choices(condition: Condition): { value: string; words: string }[] {
  const found = Object.entries(counts.value?.[condition.facet] ?? {}).filter(([value]) => value !== NONE)
  const known = found.map(([value, count]) => ({
    value,
    words: `${condition.facet === 'type' ? (WORDS.types[value] ?? value) : value} · ${count}`,
  }))
  const chosen = condition.values.filter((value) => !found.some(([name]) => name === value))
  return [...known, ...chosen.map((value) => ({ value, words: value }))].sort((a, b) =>
    a.words.localeCompare(b.words, 'en', { numeric: true }),
  )
}
const free = computed(() => FACETS.filter((facet) => !where.value.some((condition) => condition.facet === facet)))

function put(place: number, change: Partial<Condition>): void {
  where.value = where.value.map((condition, n) => (n === place ? { ...condition, ...change } : condition))
}
function add(event: Event): void {
  const field = event.target as HTMLSelectElement
  if (field.value) where.value = [...where.value, { facet: field.value as Condition['facet'], values: [], but: false }]
  field.value = ''
}
</script>

<template>
  <span class="conditions">
    <span v-for="(condition, place) in where" :key="condition.facet" class="condition">
      {{ condition.facet }}
      <select
        :value="condition.but ? 'but' : 'is'"
        :aria-label="`How ${condition.facet} is meant for ${label}`"
        @change="put(place, { but: ($event.target as HTMLSelectElement).value === 'but' })"
      >
        <option value="is">is</option>
        <option value="but">is not</option>
      </select>
      <ElSelect
        :model-value="condition.values"
        multiple
        filterable
        collapse-tags
        collapse-tags-tooltip
        placeholder="any"
        class="values"
        :aria-label="`${condition.facet} for ${label}`"
        @update:model-value="(values: string[]) => put(place, { values })"
      >
        <ElOption
          v-for="choice in choices(condition)"
          :key="choice.value"
          :value="choice.value"
          :label="choice.words"
        />
      </ElSelect>
      <button
        type="button"
        class="link-button faint"
        :aria-label="`Drop the condition on ${condition.facet} for ${label}`"
        @click="where = where.filter((_, n) => n !== place)"
      >
        ×
      </button>
    </span>
    <select v-if="free.length" value="" :aria-label="`Add a condition for ${label}`" class="add" @change="add">
      <option value="">{{ where.length ? 'and…' : 'any item…' }}</option>
      <option v-for="facet in free" :key="facet" :value="facet">by {{ facet }}</option>
    </select>
  </span>
</template>

<style scoped>
.conditions {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
}

.condition {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}

.values {
  width: 150px;
}

.add {
  color: var(--rog-ink-soft);
}
</style>

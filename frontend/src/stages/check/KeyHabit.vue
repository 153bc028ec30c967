<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'

import { useReadAgain } from './useReadAgain'

type Habit = NonNullable<Schemas['ReadOptionsIn']['key_habit']>

const props = defineProps<{ course: number; reading: Schemas['ReadingOut'] }>()
const again = useReadAgain(() => props.course)
const found = computed(() => props.reading.findings.find((finding) => finding.code === 'key-habit')?.message)
const HABITS: { value: Habit; label: string }[] = [
  { value: '', label: 'as found' },
  { value: 'mark', label: 'highlight or colour' },
  { value: 'bold', label: 'bold type' },
  { value: 'underline', label: 'underlining' },
  { value: 'italic', label: 'italics' },
  { value: 'none', label: 'no emphasis' },
]

function choose(event: Event): void {
  const habit = (event.target as HTMLSelectElement).value as Habit
  again.mutate({ reading: props.reading, options: { key_habit: habit } })
}
</script>

<template>
  <label class="habit" :title="found">
    Key shown by
    <select :value="reading.key_habit" :disabled="again.isPending.value" @change="choose">
      <option v-for="habit in HABITS" :key="habit.value" :value="habit.value">{{ habit.label }}</option>
    </select>
  </label>
</template>

<style scoped>
.habit {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  white-space: nowrap;
}

select {
  max-width: 150px;
}
</style>

<script setup lang="ts">
import type { Schemas } from '@/api/client'

import { WORDS } from '@/ui/words'

import { useReadAgain } from './useReadAgain'

type Habit = NonNullable<Schemas['ReadOptionsIn']['key_habit']>

const props = defineProps<{ course: number; reading: Schemas['ReadingOut'] }>()
const again = useReadAgain(() => props.course)

function choose(event: Event): void {
  const habit = (event.target as HTMLSelectElement).value as Habit
  again.mutate({ reading: props.reading, options: { key_habit: habit } })
}
</script>

<template>
  <label class="habit" :title="reading.key_found || undefined">
    Key shown by
    <select :value="reading.key_habit" :disabled="again.isPending.value" @change="choose">
      <option v-for="(label, habit) in WORDS.key_habits" :key="habit" :value="habit">{{ label }}</option>
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

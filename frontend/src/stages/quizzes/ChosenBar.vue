<script setup lang="ts">
import { computed, ref } from 'vue'

import { items as counted } from '@/ui/words'

import type { Line, Part, Quiz, QuizWork } from './useQuiz'

/** What is chosen of a quiz, and what can be done to all of it. */
const props = defineProps<{ quiz: Quiz; work: QuizWork; parts: Part[]; items: Line[] }>()
const emit = defineEmits<{ clear: [] }>()
const worth = ref<number | undefined>(1)
const said = computed(() =>
  [
    props.parts.length ? `${props.parts.length} ${props.parts.length === 1 ? 'part' : 'parts'}` : '',
    props.items.length ? counted(props.items.length) : '',
  ]
    .filter(Boolean)
    .join(' and '),
)
const ids = (rows: { id: number }[]) => rows.map(({ id }) => id)
const targets = computed(() => props.quiz.parts.filter((part) => part.kind === 'fixed'))

function setWorth(): void {
  const chosen = { parts: ids(props.parts), items: ids(props.items) }
  props.work.edit.mutate({ do: 'worth', ...chosen, points: worth.value ?? null })
}
function moveTo(event: Event): void {
  const field = event.target as HTMLSelectElement
  const part = targets.value.find((entry) => entry.id === Number(field.value))
  field.value = ''
  if (!part) return
  props.work.edit.mutate({ do: 'move items', items: ids(props.items), part: part.id, to: part.items.length })
}
function takeOut(): void {
  props.work.edit.mutate({ do: 'take out', parts: ids(props.parts), items: ids(props.items) })
  emit('clear')
}
</script>

<template>
  <div class="bar" role="region" aria-label="What is chosen">
    <strong>{{ said }} chosen</strong>
    <form class="row" @submit.prevent="setWorth">
      <ElInputNumber v-model="worth" :min="0" :controls="false" class="narrow" aria-label="Points for what is chosen" />
      <ElButton native-type="submit">points each</ElButton>
    </form>
    <select v-if="items.length && targets.length" value="" aria-label="Move to a part" @change="moveTo">
      <option value="">Move to…</option>
      <option v-for="part in targets" :key="part.id" :value="part.id">{{ part.title || 'a part' }}</option>
    </select>
    <ElButton @click="takeOut">Take {{ said }} out</ElButton>
    <button type="button" class="link-button" @click="emit('clear')">Choose nothing</button>
  </div>
</template>

<style scoped>
.bar {
  position: sticky;
  bottom: -40px;
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: center;
  margin: 16px -24px 0;
  padding: 10px 24px;
  background: var(--rog-joined);
  border-top: 1px solid var(--rog-rule-strong);
}

.narrow {
  width: 60px;
}
</style>

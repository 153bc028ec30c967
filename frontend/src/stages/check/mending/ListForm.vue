<script setup lang="ts">
import { ref, watch } from 'vue'

import { rowsOf } from '@/api/client'
import { sayProblem } from '@/ui/say'

import type { Wish } from './wishes'

/** What is pasted by the numbers of questions: keys, or feedback. */
const wish = defineModel<Wish | undefined>({ required: true })
const props = defineProps<{ course: number; kind: 'keys' | 'feedback' }>()
const text = ref('')
const slot = ref<'general' | 'correct' | 'incorrect'>('general')
watch(
  [text, slot, () => props.kind],
  () => {
    if (!text.value.trim()) wish.value = undefined
    else
      wish.value =
        props.kind === 'keys'
          ? { kind: 'keys', text: text.value }
          : { kind: 'feedback', text: text.value, slot: slot.value }
  },
  { immediate: true },
)
async function fromSheet(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  await rowsOf(props.course, file).then(
    (rows) => (text.value = rows.map((row) => row.filter(Boolean).slice(0, 2).join('\t')).join('\n')),
    sayProblem,
  )
}
</script>

<template>
  <textarea
    v-model="text"
    rows="7"
    :aria-label="kind === 'keys' ? 'List of keys' : 'Feedback by number'"
    :placeholder="kind === 'keys' ? '1 C  2 A  3 True' : '1\tSee page 12.'"
  />
  <p class="row">
    <label v-if="kind === 'feedback'"
      >Said
      <select v-model="slot" aria-label="When it is said">
        <option value="general">to all</option>
        <option value="correct">if right</option>
        <option value="incorrect">if wrong</option>
      </select></label
    >
    <label class="link-button"
      >from a sheet<input class="visually-hidden" type="file" accept=".csv,.tsv,.txt,.xlsx,.ods" @change="fromSheet"
    /></label>
    <span class="faint">by the numbers as they are printed; counted where none are</span>
  </p>
</template>

<style scoped>
textarea {
  width: 100%;
}

.row {
  gap: 16px;
}
</style>

<script setup lang="ts">
import { computed } from 'vue'

import RichInput from '../editor/RichInput.vue'

import { freeName } from './types'

export interface Passage {
  id: string
  content: string
}

/** What an item shares with others: which passage, and its text, which changes for all of them. */
const stimulus = defineModel<string | null | undefined>({ required: true })
const passages = defineModel<Passage[]>('passages', { required: true })
const chosen = computed(() => passages.value.find((entry) => entry.id === stimulus.value))
const named = (content: string) => new DOMParser().parseFromString(content, 'text/html').body.textContent?.slice(0, 60)

function choose(event: Event): void {
  const said = (event.target as HTMLSelectElement).value
  if (said !== '+') {
    stimulus.value = said || null
    return
  }
  const id = freeName(
    's',
    passages.value.map((entry) => entry.id),
  )
  passages.value = [...passages.value, { id, content: '' }]
  stimulus.value = id
}
</script>

<template>
  <span class="caption">Passage that it shares with others</span>
  <select :value="stimulus ?? ''" aria-label="Passage" class="choose" @change="choose">
    <option value="">none</option>
    <option v-for="entry in passages" :key="entry.id" :value="entry.id">
      {{ named(entry.content) || 'without text yet' }}
    </option>
    <option value="+">a new passage</option>
  </select>
  <RichInput v-if="chosen" :key="chosen.id" v-model="chosen.content" label="Text of the passage" />
</template>

<style scoped>
.choose {
  justify-self: start;
  max-width: 100%;
}
</style>

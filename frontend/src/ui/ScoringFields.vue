<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'

import { SCORING } from './scoring'

/** How an item with several parts earns its points: each part its share, or all of them together; and how low a sum may go. */
type Scored = Extract<Schemas['ReadingItemOut']['item'], { scoring?: unknown }>
const item = defineModel<Scored>({ required: true })
const ways = computed(() => SCORING[item.value.type ?? 'cloze'] ?? {})
const sums = computed(() => 'lowest' in item.value && item.value.scoring !== 'all_or_nothing')
const lowest = computed(() => ('lowest' in item.value ? item.value.lowest : 0))

function setScoring(event: Event): void {
  item.value = { ...item.value, scoring: (event.target as HTMLSelectElement).value } as Scored
}
function setLowest(event: Event): void {
  const text = (event.target as HTMLSelectElement).value
  item.value = { ...item.value, lowest: text === 'none' ? null : Number(text) } as Scored
}
</script>

<template>
  <div class="row scoring">
    <label
      >Marks
      <select :value="item.scoring" aria-label="Marks" @change="setScoring">
        <option v-for="(label, name) in ways" :key="name" :value="name">{{ label }}</option>
      </select></label
    >
    <label v-if="sums"
      >The sum
      <select :value="lowest === null ? 'none' : String(lowest ?? 0)" aria-label="The sum" @change="setLowest">
        <option value="0">never goes below 0</option>
        <option value="none">may go below 0</option>
        <option v-if="lowest" :value="String(lowest)">never goes below {{ lowest * 100 }} %</option>
      </select></label
    >
  </div>
</template>

<style scoped>
.scoring {
  margin-top: 8px;
  gap: 20px;
}

select {
  font: inherit;
  color: inherit;
  background-color: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  padding: 3px 8px;
}

/* Room for the arrow of the list. */
select {
  padding-right: 26px;
}
</style>

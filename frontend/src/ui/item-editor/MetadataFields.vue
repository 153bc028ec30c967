<script setup lang="ts">
import { computed, ref } from 'vue'

import { WORDS } from '../words'

import PartTools from './PartTools.vue'
import type { AnyItem } from './types'
import { partedValues } from './values'

/** Metadata: a label and its values, parted by semicolons. */
const item = defineModel<AnyItem>({ required: true })
const held = computed(() => Object.entries(item.value.metadata ?? {}))
const label = ref('')
const shown = (name: string) => WORDS.metadata[name] ?? name

function set(name: string, text: string): void {
  item.value.metadata = { ...(item.value.metadata ?? {}), [name]: partedValues(text) }
}
function remove(name: string): void {
  item.value.metadata = Object.fromEntries(held.value.filter(([key]) => key !== name))
}
function add(): void {
  const typed = label.value.trim()
  const known = Object.entries(WORDS.metadata).find(([, words]) => words.toLowerCase() === typed.toLowerCase())
  const name = known?.[0] ?? typed
  if (name && !item.value.metadata?.[name]) set(name, '')
  label.value = ''
}
</script>

<template>
  <span class="caption">Metadata</span>
  <div v-for="([name, values], index) in held" :key="name" class="entry">
    <span class="soft">{{ shown(name) }}</span>
    <input
      :value="values.join('; ')"
      :aria-label="shown(name)"
      @change="set(name, ($event.target as HTMLInputElement).value)"
    />
    <PartTools :name="shown(name)" :index="index" :count="held.length" @remove="remove(name)" />
  </div>
  <div class="entry">
    <input
      v-model="label"
      list="metadata-labels"
      aria-label="Label of new metadata"
      placeholder="label"
      @keydown.enter.prevent="add"
    />
    <button type="button" class="link-button" @click="add">Add it</button>
    <datalist id="metadata-labels">
      <option v-for="(words, name) in WORDS.metadata" :key="name" :value="words" />
    </datalist>
  </div>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
}

input {
  padding: 3px 9px;
  font: inherit;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  min-width: 0;
}

.link-button {
  justify-self: start;
}
</style>

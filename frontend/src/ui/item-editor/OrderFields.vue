<script setup lang="ts">
import { computed } from 'vue'

import RichInput from '../editor/RichInput.vue'

import PartTools from './PartTools.vue'
import { moved, type OrderingItem } from './types'

/** Entries in the right order. */
const item = defineModel<OrderingItem>({ required: true })
const entries = computed(() => item.value.sequence ?? [])
</script>

<template>
  <span class="caption">Entries in the right order</span>
  <div v-for="(_, index) in entries" :key="index" class="entry">
    <span class="faint">{{ index + 1 }}</span>
    <RichInput v-model="entries[index]!" :label="`Entry ${index + 1}`" />
    <PartTools
      :name="`entry ${index + 1}`"
      :index="index"
      :count="entries.length"
      movable
      @move="moved(entries, index, $event)"
      @remove="entries.splice(index, 1)"
    />
  </div>
  <button type="button" class="link-button add" @click="item.sequence = [...entries, '']">Add an entry</button>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
}

.add {
  justify-self: start;
}
</style>

<script setup lang="ts">
import { computed, ref } from 'vue'

import { items } from '@/ui/words'

import { sums, type Group } from './grouped'

/** The line above what was dropped together: its name, its sums, and the taking of all of it as one. */
const props = defineProps<{ group: Group }>()
const emit = defineEmits<{ take: []; name: [string] }>()
const naming = ref(false)
const told = computed(() => sums(props.group.sources))
function named(event: Event): void {
  naming.value = false
  emit('name', (event.target as HTMLInputElement).value)
}
</script>

<template>
  <tr class="batch">
    <td />
    <td colspan="5">
      <input
        v-if="naming"
        class="name-field"
        :value="group.batch?.name"
        aria-label="Name of the batch"
        @change="named"
        @keydown.enter.prevent="named"
        @keydown.escape="naming = false"
      />
      <button v-else type="button" class="plain-button name" title="Name it" @click="naming = true">
        {{ group.batch?.name }}
      </button>
      <span class="soft"> {{ group.sources.length }} sources dropped together, {{ items(told.items) }}</span>
    </td>
    <td colspan="2" class="next">
      <ElButton v-if="told.waiting" size="small" @click="emit('take')">
        Take {{ told.sound || told.waiting }} of {{ group.sources.length }} sources
      </ElButton>
      <span v-else class="faint">all taken</span>
    </td>
  </tr>
</template>

<style scoped>
td {
  padding: 14px 10px 5px 0;
  border-bottom: 1px solid var(--rog-rule-strong);
}

.name {
  font: 600 15px var(--rog-serif);
}

.name-field {
  font: 600 15px var(--rog-serif);
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}

.next {
  text-align: right;
  padding-right: 0;
}
</style>

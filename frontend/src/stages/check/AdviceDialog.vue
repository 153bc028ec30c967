<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { WORDS } from '@/ui/words'

/** Which kinds of advice the course wants, with how many items of this reading each is about. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ reading: Schemas['ReadingOut']; off: string[] }>()
const emit = defineEmits<{ off: [string[]]; show: [] }>()
const counts = computed(() => {
  const found: Record<string, number> = {}
  for (const code of props.reading.cells.flatMap((cell) => cell.advice)) found[code] = (found[code] ?? 0) + 1
  return found
})
function toggle(code: string): void {
  emit('off', props.off.includes(code) ? props.off.filter((entry) => entry !== code) : [...props.off, code])
}
</script>

<template>
  <ElDialog v-model="open" title="Advice on the writing of items" width="620" append-to-body>
    <p class="soft">
      From the guidelines of Haladyna, Downing and Rodriguez (2002). Nothing of it is an error; what is not ticked is
      not said in this course.
    </p>
    <ul>
      <li v-for="(words, code) in WORDS.advice" :key="code">
        <label
          ><input type="checkbox" :checked="!off.includes(String(code))" @change="toggle(String(code))" />
          {{ words }}</label
        >
        <span class="faint">{{ counts[code] ? `on ${counts[code]}` : '' }}</span>
      </li>
    </ul>
    <template #footer>
      <ElButton :disabled="!Object.keys(counts).length" @click="((open = false), emit('show'))"
        >Show the items with advice</ElButton
      >
    </template>
  </ElDialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 2;
  column-gap: 32px;
}

li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 2px 0;
}
</style>

<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** What is put into one blank: chosen, or typed. */
const answer = defineModel<string>({ required: true })
defineProps<{ blank: Schemas['BlankForm']; label: string; disabled: boolean; plain: (content: string) => string }>()
</script>

<template>
  <select v-if="blank.options?.length" v-model="answer" :disabled="disabled" :aria-label="label">
    <option value="" />
    <option v-for="option in blank.options" :key="option.id" :value="option.id">{{ plain(option.content) }}</option>
  </select>
  <input v-else v-model="answer" class="blank-line" :disabled="disabled" :aria-label="label" />
</template>

<style scoped>
.blank-line {
  width: min(170px, 60vw);
  font: 16px var(--rog-serif);
  color: inherit;
  background: transparent;
  border: 0;
  border-bottom: 1.5px solid var(--rog-ink);
}

select {
  max-width: min(260px, 70vw);
}
</style>

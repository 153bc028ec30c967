<script setup lang="ts">
import { ref } from 'vue'

import RichInput from '../editor/RichInput.vue'

/** Feedback that may be there or not: a word to add it, then a field. */
const note = defineModel<string | null | undefined>({ required: true })
const props = defineProps<{ label: string; add?: string }>()
const open = ref(Boolean(note.value))
</script>

<template>
  <div v-if="open" class="note">
    <span class="faint">{{ props.label }}</span>
    <RichInput :model-value="note ?? ''" :label="props.label" @update:model-value="note = $event || null" />
  </div>
  <button v-else type="button" class="link-button faint add" :aria-label="`Add: ${props.label}`" @click="open = true">
    {{ props.add ?? '+ feedback' }}
  </button>
</template>

<style scoped>
.note {
  display: grid;
  gap: 2px;
  margin: 3px 0 6px;
  font-size: 12.5px;
}

.add {
  font-size: 12.5px;
}
</style>

<script setup lang="ts">
import NoteField from './NoteField.vue'
import type { Truth } from './types'

/** Whether a statement is true, and what is said to who picks either. */
const item = defineModel<Truth>({ required: true })

function note(side: 'true' | 'false', text: string | null | undefined): void {
  const told = { ...(item.value.choice_feedback ?? {}) }
  if (text) told[side] = text
  else Reflect.deleteProperty(told, side)
  item.value.choice_feedback = told
}
</script>

<template>
  <span class="caption">Key</span>
  <div v-for="side in ['true', 'false'] as const" :key="side" class="side">
    <label
      ><input
        type="radio"
        name="truth"
        :checked="item.answer === (side === 'true')"
        @change="item.answer = side === 'true'"
      />
      {{ side === 'true' ? 'True' : 'False' }}</label
    >
    <NoteField
      :model-value="item.choice_feedback?.[side]"
      :label="`Feedback if ${side}`"
      @update:model-value="note(side, $event)"
    />
  </div>
</template>

<style scoped>
.side {
  display: grid;
  grid-template-columns: 90px minmax(0, 1fr);
}
</style>

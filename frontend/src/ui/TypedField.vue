<script setup lang="ts">
import { computed } from 'vue'

/**
 * A field that says what was typed when it is left. What is being typed stays while the page around it is drawn anew; what did not
 * come to anything gives way to what holds.
 */
const props = defineProps<{ modelValue: string | number | null | undefined }>()
const emit = defineEmits<{ 'update:modelValue': [string] }>()
const typed = computed({
  get: () => String(props.modelValue ?? ''),
  set: (now) => emit('update:modelValue', now),
})
</script>

<template>
  <input v-model.lazy="typed" />
</template>

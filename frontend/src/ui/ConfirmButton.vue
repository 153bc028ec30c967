<script setup lang="ts">
import { nextTick, ref } from 'vue'

/** A button for what undo does not take back: it says so first, at the same place, and is asked a second time. */
defineProps<{ label: string; ask: string; verb: string }>()
const emit = defineEmits<{ confirm: [] }>()
const asking = ref(false)
const no = ref<HTMLButtonElement>()
async function begin(): Promise<void> {
  asking.value = true
  await nextTick()
  no.value?.focus()
}
function confirm(): void {
  asking.value = false
  emit('confirm')
}
</script>

<template>
  <button v-if="!asking" type="button" class="link-button" @click="begin">{{ label }}</button>
  <span v-else class="confirm" role="alertdialog" :aria-label="ask" @keydown.escape.stop="asking = false">
    {{ ask }}
    <button type="button" class="link-button danger" @click="confirm">{{ verb }}</button>
    <button ref="no" type="button" class="link-button" @click="asking = false">Cancel</button>
  </span>
</template>

<style scoped>
.confirm {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
}

.danger {
  color: var(--rog-signal);
}
</style>

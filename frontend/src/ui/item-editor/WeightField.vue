<script setup lang="ts">
import { computed } from 'vue'

/** What something earns, in per cent of the points: below 0 where it costs. */
const weight = defineModel<number | undefined>({ required: true })
defineProps<{ label: string; least?: number }>()
const percent = computed(() => String(Number(((weight.value ?? 0) * 100).toFixed(4))))

function set(event: Event): void {
  const typed = Number((event.target as HTMLInputElement).value.trim().replace(',', '.').replace('%', ''))
  if (!Number.isNaN(typed)) weight.value = Math.max(-100, Math.min(100, typed)) / 100
}
</script>

<template>
  <span class="weight"><input :value="percent" inputmode="decimal" :aria-label="label" @change="set" /> %</span>
</template>

<style scoped>
.weight {
  white-space: nowrap;
  color: var(--rog-ink-soft);
}

input {
  width: 62px;
  padding: 3px 6px;
  font: inherit;
  text-align: right;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}
</style>

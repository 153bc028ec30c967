<script setup lang="ts">
import { SIDES, type Side } from './sides'

/** Two sums over the same items: what students see and how it is marked, and what only the instructor sees; each shows only what it counts. */
defineProps<{
  total: number
  order: readonly string[]
  sums: Record<Side, Partial<Record<string, number>>>
  /** What is shown alone. */
  only?: { side: Side; name: string }
}>()
const emit = defineEmits<{ show: [only?: { side: Side; name: string }] }>()
</script>

<template>
  <nav class="totals" aria-label="Show only">
    <button type="button" :class="{ here: !only }" @click="emit('show')">all {{ total }}</button>
    <span v-for="(entry, side) in SIDES" :key="side" class="side" :class="side">
      <span class="label">{{ entry.label }}</span>
      <template v-for="name in order" :key="name">
        <button
          v-if="sums[side][name]"
          type="button"
          :class="{ here: only?.side === side && only.name === name }"
          @click="emit('show', { side, name })"
        >
          <slot :of="name" :count="sums[side][name]!" />
        </button>
      </template>
    </span>
    <slot name="more" />
  </nav>
</template>

<style scoped>
.totals {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 0 16px 8px;
  border-bottom: 1px solid var(--rog-rule);
}

.totals :deep(button) {
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  padding: 3px 10px;
  cursor: pointer;
}

.totals :deep(button.here) {
  background: var(--rog-joined);
}

.side {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  padding-left: 12px;
  margin-left: 8px;
  border-left: 1px solid var(--rog-rule-strong);
}

.label {
  font-size: 12.5px;
  font-weight: 600;
}

.side.you {
  font-size: 12.5px;
}

.side.you .label {
  font-weight: 400;
  color: var(--rog-ink-soft);
}
</style>

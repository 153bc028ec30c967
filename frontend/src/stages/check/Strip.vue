<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'

const props = defineProps<{ cells: Schemas['StripCell'][]; current: number }>()
const emit = defineEmits<{ pick: [number] }>()
const home = ref<HTMLElement>()
/** From so many on, cells are small: the strip is for the whole at a glance, and must leave room for what it is of. */
const MANY = 240

function say(cell: Schemas['StripCell']): string {
  const state = cell.taken ? 'taken' : cell.dropped ? 'left out' : cell.worst || 'sound'
  return `Item ${cell.position}, ${state}: ${cell.text.slice(0, 60)}`
}

watch(
  () => props.current,
  async () => {
    await nextTick()
    home.value?.querySelector('[aria-current="true"]')?.scrollIntoView?.({ block: 'nearest' })
  },
)
</script>

<template>
  <nav ref="home" class="strip" :class="{ dense: cells.length > MANY }" aria-label="Items in the order of the source">
    <button
      v-for="cell in cells"
      :key="cell.position"
      v-memo="[cell, cell.position === current]"
      type="button"
      class="cell"
      :class="[cell.worst || 'sound', { taken: cell.taken, dropped: cell.dropped }]"
      :aria-current="cell.position === current"
      :aria-label="say(cell)"
      :title="say(cell)"
      tabindex="-1"
      @click="emit('pick', cell.position)"
    />
  </nav>
</template>

<style scoped>
.strip {
  display: flex;
  flex-direction: column;
  flex-wrap: wrap;
  align-content: flex-start;
  gap: 3px;
  padding: 10px 6px;
  overflow: auto;
  background: var(--rog-well);
  border-inline: 1px solid var(--rog-rule);
}

.cell {
  width: 16px;
  height: 11px;
  padding: 0;
  border: 1px solid var(--rog-rule-strong);
  background: var(--rog-sheet);
  cursor: pointer;
}

.dense {
  gap: 2px;
}

.dense .cell {
  width: 9px;
  height: 6px;
}

.cell.error {
  background: var(--rog-signal);
  border-color: var(--rog-signal);
}

.cell.warning {
  border-color: var(--rog-caution);
  background: linear-gradient(to top, var(--rog-caution) 50%, var(--rog-sheet) 50%);
}

.cell.note {
  border-color: var(--rog-aside);
  border-left-width: 4px;
}

.cell.taken {
  background: transparent;
  border-style: dotted;
}

.cell.dropped {
  background: linear-gradient(to top right, transparent 46%, var(--rog-ink-faint) 46% 54%, transparent 54%);
}

.cell[aria-current='true'] {
  outline: 2px solid var(--rog-ink);
  outline-offset: 1px;
}
</style>

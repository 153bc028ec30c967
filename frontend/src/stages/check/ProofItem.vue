<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import ItemView from '@/ui/ItemView.vue'
import LevelMark from '@/ui/LevelMark.vue'

/** An item as it is set on the page: its number and place at the left, what is said of it in the margin. */
const props = defineProps<{
  cell: Schemas['StripCell']
  item: Schemas['ReadingItemOut'] | undefined
  current: boolean
}>()
const emit = defineEmits<{ key: [number]; open: [] }>()
const notes = computed(() => [
  ...(props.item?.findings ?? []).filter((finding) => !finding.dismissed),
  ...(props.item?.advice ?? []).filter((advice) => !advice.dismissed),
])
</script>

<template>
  <section
    class="proof-item"
    :class="{ current, dropped: cell.dropped, taken: cell.taken }"
    :aria-label="`Item ${cell.position}`"
    :aria-current="current"
  >
    <div class="number">
      <button
        type="button"
        class="plain-button"
        :aria-label="`Open item ${cell.position} beside its source`"
        @click="emit('open')"
      >
        {{ cell.position }}
      </button>
      <span v-if="cell.edited" class="faint">edited</span>
      <span v-if="cell.dropped" class="signal">left out</span>
      <span v-if="cell.taken" class="faint">taken</span>
    </div>
    <div class="body">
      <ItemView
        v-if="item"
        :item="item.item"
        :stimulus="item.stimulus"
        :settable="!cell.taken"
        @key="emit('key', $event)"
      />
      <p v-else class="stem-alone">{{ cell.text }}</p>
    </div>
    <aside class="margin" :aria-label="`Notes on item ${cell.position}`">
      <p v-if="item" class="faint">{{ item.where }}</p>
      <p v-for="note in notes" :key="note.code + note.message"><LevelMark :level="note.level" /> {{ note.message }}</p>
    </aside>
  </section>
</template>

<style scoped>
.proof-item {
  display: grid;
  grid-template-columns: 62px minmax(0, 640px) minmax(180px, 250px);
  gap: 0 26px;
  padding: 16px 22px 14px;
  border-left: 3px solid transparent;
}

.current {
  border-color: var(--rog-ink);
  background: var(--rog-sheet);
}

.dropped .body,
.taken .body {
  border-left: 2px dotted var(--rog-rule-strong);
  padding-left: 12px;
}

.number {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  font-size: 12px;
}

.number button {
  font: 600 17px var(--rog-serif);
}

.signal {
  color: var(--rog-signal);
}

.stem-alone {
  min-height: 120px;
  font: 17px/1.5 var(--rog-serif);
}

.margin {
  font-size: 12.5px;
  line-height: 1.4;
  overflow-wrap: anywhere;
}

.margin p {
  margin: 0 0 7px;
}
</style>

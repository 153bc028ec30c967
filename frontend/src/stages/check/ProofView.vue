<script setup lang="ts">
import { useQueries } from '@tanstack/vue-query'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { readingItemsQuery } from '@/api/queries'
import { WORDS } from '@/ui/words'

import { counts, FILTERS, kept } from './filters'
import ProofItem from './ProofItem.vue'
import { PAGE, pageOf } from './useReading'

/** All items of a reading set as on pages in one column; it loads what is near, and measures what it has shown. */
const filters = defineModel<string[]>('filters', { required: true })
const type = defineModel<string>('type', { required: true })
const props = defineProps<{ course: number; reading: Schemas['ReadingOut']; current: number }>()
const emit = defineEmits<{ pick: [number]; key: [number, number]; open: [number] }>()
const home = ref<HTMLElement>()
const cells = computed(() => kept(props.reading.cells, filters.value, type.value))
const sums = computed(() => counts(props.reading.cells))
const types = computed(() => [...new Set(props.reading.cells.map((cell) => cell.type))])

/** How high an item will be, by the words of its stem and what its type has below: near enough until it is measured. */
const estimate = (index: number) => {
  const cell = cells.value[index]
  return 70 + 24 * Math.ceil((cell?.text.length ?? 0) / 74) + (cell?.type.startsWith('multiple') ? 120 : 34)
}
const virtual = useVirtualizer(
  computed(() => ({
    count: cells.value.length,
    getScrollElement: () => home.value ?? null,
    estimateSize: estimate,
    getItemKey: (index: number) => cells.value[index]?.position ?? index,
    overscan: 6,
  })),
)
const shown = computed(() => virtual.value.getVirtualItems())
const pages = computed(() => {
  const wanted = new Set<number>()
  for (const row of shown.value) {
    const position = cells.value[row.index]?.position ?? 1
    for (const near of [position - 12, position, position + 12])
      if (near >= 1 && near <= props.reading.cells.length) wanted.add(pageOf(near))
  }
  return [...wanted].sort((a, b) => a - b)
})
const loaded = useQueries({
  queries: computed(() =>
    pages.value.map((first) => readingItemsQuery(props.course, props.reading.id, first, first + PAGE - 1)),
  ),
})
const items = computed(
  () => new Map(loaded.value.flatMap((page) => page.data ?? []).map((item) => [item.position, item])),
)

let own = 0
watch(
  () => [props.current, cells.value.length],
  async () => {
    if (props.current === own) return
    await nextTick()
    const index = cells.value.findIndex((cell) => cell.position >= props.current)
    if (index >= 0) virtual.value.scrollToIndex(index, { align: 'start' })
  },
  { immediate: true },
)
// What is narrowed away cannot be the one that is decided on.
watch(
  cells,
  (now) => {
    const next = now.find((cell) => cell.position >= props.current) ?? now.at(-1)
    if (next && next.position !== props.current) emit('pick', next.position)
  },
  { immediate: true },
)
function pick(position: number): void {
  own = position
  emit('pick', position)
}
function toggle(name: string): void {
  filters.value = filters.value.includes(name)
    ? filters.value.filter((entry) => entry !== name)
    : [...filters.value, name]
}
</script>

<template>
  <section class="proof" aria-label="Proof">
    <header class="filters">
      <button
        v-for="(filter, name) in FILTERS"
        :key="name"
        type="button"
        class="filter"
        :aria-pressed="filters.includes(String(name))"
        :disabled="!sums[name] && !filters.includes(String(name))"
        @click="toggle(String(name))"
      >
        {{ filter.label }} <span class="count">{{ sums[name] }}</span>
      </button>
      <label class="faint"
        >type
        <select v-model="type" aria-label="Type">
          <option value="">all</option>
          <option v-for="name in types" :key="name" :value="name">{{ WORDS.types[name] ?? name }}</option>
        </select></label
      >
      <span class="grow" />
      <a class="print" :href="`/api/readings/${reading.id}/proof?key=true`" target="_blank">Print with the key</a>
      <a class="print" :href="`/api/readings/${reading.id}/proof?key=false`" target="_blank">without</a>
    </header>
    <div><slot /></div>
    <div ref="home" role="group" class="pages" tabindex="0" aria-label="Items of the reading">
      <p v-if="!cells.length" class="soft none">
        No item is like that.
        <button type="button" class="link-button" @click="((filters = []), (type = ''))">Show all</button>
      </p>
      <div :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }">
        <div
          v-for="row in shown"
          :ref="(element) => virtual.measureElement(element as Element)"
          :key="String(row.key)"
          :data-index="row.index"
          class="row-at"
          :style="{ transform: `translateY(${row.start}px)` }"
          @click="pick(cells[row.index]!.position)"
        >
          <ProofItem
            :cell="cells[row.index]!"
            :item="items.get(cells[row.index]!.position)"
            :current="cells[row.index]!.position === current"
            @key="emit('key', cells[row.index]!.position, $event)"
            @open="emit('open', cells[row.index]!.position)"
          />
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.proof {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
}

.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  padding: 6px 18px;
  border-bottom: 1px solid var(--rog-rule);
  font-size: 13px;
}

.filter {
  padding: 2px 9px;
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  background: none;
  color: inherit;
  font-size: 13px;
  cursor: pointer;
}

.filter[aria-pressed='true'] {
  background: var(--rog-ink);
  color: var(--rog-paper);
}

.filter:disabled {
  color: var(--rog-ink-faint);
  border-color: var(--rog-rule);
  cursor: default;
}

.count {
  margin-left: 3px;
}

.grow {
  flex: 1;
}

.print {
  font-size: 13px;
}

.pages {
  overflow: auto;
}

.row-at {
  position: absolute;
  top: 0;
  left: 0;
  width: 100%;
}

.none {
  padding: 24px;
}
</style>

<script setup lang="ts">
import { useQueries, useQuery, keepPreviousData } from '@tanstack/vue-query'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, watch } from 'vue'

import { asked, itemPageQuery, type ItemFilter, type ItemOrder } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'

import { COLUMNS, STEM, useColumns } from './columns'
import { extended, has, toggled, type Chosen } from './selection'

const ROW = 34
const props = defineProps<{
  course: number
  filter: ItemFilter
  order: ItemOrder
  open: number
  narrow?: boolean
  /** How the list is said to be empty where no filter is set. */
  empty?: string
}>()
const chosen = defineModel<Chosen>({ required: true })
const emit = defineEmits<{ open: [number]; total: [number | undefined]; sort: [ItemOrder['sort']] }>()
const { chosenColumns } = useColumns()
const shownColumns = computed(() =>
  COLUMNS.filter((column) => chosenColumns.value.includes(column.name) && (!props.narrow || column.narrow)),
)
const layout = computed(() => ({
  gridTemplateColumns: ['32px', 'minmax(0, 1fr)', ...shownColumns.value.map((column) => column.width)].join(' '),
}))
const home = ref<HTMLElement>()

const first = useQuery(
  computed(() => ({ ...itemPageQuery(props.course, props.filter, 0, props.order), placeholderData: keepPreviousData })),
)
/** The rows still shown are those of the list before: they can be looked at, and nothing can be done with them. */
const passing = computed(() => first.isPlaceholderData.value)
/** How many rows a page of the list has, as the server says. */
const size = computed(() => first.data.value?.size ?? 1)
const total = computed(() => first.data.value?.total ?? 0)
const virtual = useVirtualizer(
  computed(() => ({
    count: total.value,
    getScrollElement: () => home.value ?? null,
    estimateSize: () => ROW,
    overscan: 24,
  })),
)
const shown = computed(() => virtual.value.getVirtualItems())
const pages = computed(() =>
  [...new Set(shown.value.map((row) => Math.floor(row.index / size.value)))].filter((page) => page > 0),
)
const more = useQueries({
  queries: computed(() =>
    pages.value.map((page) => itemPageQuery(props.course, props.filter, page * size.value, props.order)),
  ),
})
const rows = computed(() => {
  const found = new Map(first.data.value?.rows.map((row, index) => [index, row]))
  pages.value.forEach((page, place) =>
    more.value[place]?.data?.rows.forEach((row, index) => found.set(page * size.value + index, row)),
  )
  return found
})
const loaded = computed(() => [...rows.value.entries()].sort((a, b) => a[0] - b[0]).map(([, row]) => row.id))

// How many match is not known while the rows of the list before are shown.
watch([total, passing], () => emit('total', passing.value ? undefined : total.value), { immediate: true })
watch(
  () => [props.filter, props.order],
  () => home.value?.scrollTo({ top: 0 }),
)

function sorted(by: ItemOrder['sort'] | undefined): 'ascending' | 'descending' | 'none' | undefined {
  if (!by) return undefined
  if (props.order.sort !== by) return 'none'
  return props.order.descending ? 'descending' : 'ascending'
}

function tick(event: MouseEvent | KeyboardEvent, id: number): void {
  chosen.value = event.shiftKey ? extended(chosen.value, id, loaded.value) : toggled(chosen.value, id)
}

async function step(by: number): Promise<void> {
  const place = [...rows.value.entries()].find(([, row]) => row.id === props.open)?.[0] ?? -1
  const next = rows.value.get(place + by)
  if (!next || passing.value) return
  emit('open', next.id)
  await nextTick()
  virtual.value.scrollToIndex(place + by)
}
defineExpose({ step, toggleOpen: () => props.open && (chosen.value = toggled(chosen.value, props.open)) })
</script>

<template>
  <ErrorState v-if="first.error.value" :error="first.error.value" />
  <div
    v-else
    ref="home"
    class="list"
    role="grid"
    :aria-rowcount="total"
    aria-label="Items"
    tabindex="0"
    :aria-busy="passing"
    :class="{ passing }"
  >
    <div v-if="total" class="head" role="row" :style="layout">
      <span role="columnheader"><span class="visually-hidden">Selected</span></span>
      <span
        v-for="head in [STEM, ...shownColumns]"
        :key="head.name"
        role="columnheader"
        :class="head.name"
        :aria-sort="sorted(head.sort)"
      >
        <button
          v-if="head.sort"
          type="button"
          class="plain-button"
          :class="{ here: order.sort === head.sort }"
          @click="emit('sort', head.sort)"
        >
          {{ head.label
          }}<span v-if="order.sort === head.sort" aria-hidden="true">{{ order.descending ? ' ↓' : ' ↑' }}</span>
        </button>
        <template v-else>{{ head.label }}</template>
      </span>
    </div>
    <p v-if="first.isPending.value" class="faint state">Loading…</p>
    <p v-else-if="!total" class="soft state">
      {{
        Object.keys(asked({ ...filter, pool: undefined, with_subpools: undefined })).length
          ? 'Nothing matches. Take a filter away.'
          : (empty ?? 'This pool is empty. Take items into it in Check.')
      }}
    </p>
    <div :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }" :inert="passing || undefined">
      <div
        v-for="row in shown"
        :key="row.index"
        class="item"
        role="row"
        :aria-rowindex="row.index + 1"
        :aria-selected="rows.get(row.index) ? has(chosen, rows.get(row.index)!.id) : false"
        :class="{ open: rows.get(row.index)?.id === open, narrow }"
        :style="{ transform: `translateY(${row.start}px)`, ...layout }"
        @click="rows.get(row.index) && emit('open', rows.get(row.index)!.id)"
      >
        <template v-if="rows.get(row.index)">
          <span role="gridcell" class="tick">
            <input
              type="checkbox"
              :checked="has(chosen, rows.get(row.index)!.id)"
              :aria-label="`Select ${rows.get(row.index)!.text.slice(0, 60)}`"
              @click.stop="tick($event, rows.get(row.index)!.id)"
            />
          </span>
          <span role="gridcell" class="text">{{
            rows.get(row.index)!.text || rows.get(row.index)!.title || 'no stem'
          }}</span>
          <span
            v-for="column in shownColumns"
            :key="column.name"
            role="gridcell"
            class="meta"
            :class="column.name"
            :title="column.title?.(rows.get(row.index)!)"
            >{{ column.text(rows.get(row.index)!) }}</span
          >
        </template>
        <span v-else role="gridcell" class="text faint">…</span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.list {
  overflow: auto;
  height: 100%;
  outline-offset: -2px;
}

.state {
  padding: 24px;
}

/* Said only when it takes long enough to be noticed. */
.passing {
  opacity: 0.5;
  transition: opacity 0.1s 0.25s;
}

.item,
.head {
  display: grid;
  align-items: center;
  gap: 10px;
  padding: 0 14px 0 10px;
  border-bottom: 1px solid var(--rog-rule);
}

.item {
  position: absolute;
  top: 0;
  left: 0;
  right: 0;
  height: 34px;
  cursor: pointer;
}

.head {
  position: sticky;
  top: 0;
  z-index: 1;
  height: 27px;
  background: var(--rog-sheet);
  font-size: 12px;
  color: var(--rog-ink-soft);
}

.list .head > * {
  font: 12px var(--rog-sans);
  letter-spacing: normal;
}

.head .here {
  color: var(--rog-ink);
  font-weight: 600;
}

.item:hover {
  background: var(--rog-well);
}

.item.open {
  background: var(--rog-joined);
}

.tick {
  display: grid;
  place-items: center;
}

.text {
  font-family: var(--rog-serif);
  font-size: 15px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.meta {
  font-size: 12.5px;
  color: var(--rog-ink-soft);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.points {
  text-align: right;
}

.signs {
  letter-spacing: 0.12em;
  font-size: 14px;
}
</style>

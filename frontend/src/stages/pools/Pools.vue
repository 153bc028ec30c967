<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useDebounceFn, useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { countsQuery } from '@/api/queries'
import EmptyState from '@/ui/EmptyState.vue'
import ErrorState from '@/ui/ErrorState.vue'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items } from '@/ui/words'

import BulkBar from './BulkBar.vue'
import { COLUMNS, useColumns } from './columns'
import FilterBar from './FilterBar.vue'
import ItemReader from './ItemReader.vue'
import ItemTable from './ItemTable.vue'
import PoolTree from './PoolTree.vue'
import { NONE, selectionOf, type Chosen } from './selection'
import { useFilter } from './useFilter'
import { treeOf, usePools } from './usePools'

const course = useCourse()
const route = useRoute()
const pools = usePools(course)
const { course: detail, mayEdit } = useRole(course)
const open = computed(() => Number(route.query.item ?? 0))
const filtering = useFilter(open)
const { filter, order, go } = filtering
const { chosenColumns, toggle } = useColumns()
const pool = computed(() => filter.value.pool ?? undefined)
const chosen = ref<Chosen>(NONE)
const total = ref<number>()
const table = ref<InstanceType<typeof ItemTable>>()
const search = ref(filter.value.query ?? '')
const searchField = ref<{ focus: () => void }>()
const here = computed(() => pools.pools.data.value?.find((entry) => entry.id === pool.value))
const filtersOpen = useStorage('rogatum-filters-open', false)
const filtered = computed(() => Boolean(filtering.set.value.length || filter.value.query))

/** What the field put into the address last: what comes back of that must not overwrite what is typed meanwhile. */
let put = filter.value.query ?? ''
watch(
  search,
  useDebounceFn((text: string) => {
    put = text
    go({ q: text || undefined })
  }, 180),
)
watch(
  () => filter.value.query ?? '',
  (now) => now !== put && (search.value = put = now),
)
watch(filter, (now, before) => {
  if (JSON.stringify(now) !== JSON.stringify(before)) chosen.value = NONE
})
// Where a filter is set, the tree tells how many of each pool it leaves.
const { data: counts } = useQuery(
  computed(() => ({
    ...countsQuery(course.value, filter.value),
    enabled: filtered.value,
    placeholderData: keepPreviousData,
  })),
)
const tree = computed(() =>
  filtered.value && counts.value ? treeOf(pools.pools.data.value ?? [], counts.value.pool ?? {}) : pools.tree.value,
)

const selection = computed(() => selectionOf(chosen.value, filter.value))
function selectAll(): void {
  if (total.value) chosen.value = { ids: [], all: true }
}
const group = 'Pools'
useShortcuts([
  { keys: 'ArrowDown', label: 'Next item', group, run: () => void table.value?.step(1) },
  { keys: 'ArrowUp', label: 'Item before', group, run: () => void table.value?.step(-1) },
  { keys: 'Space', label: 'Select the open item', group, run: () => void table.value?.toggleOpen() },
  { keys: 'a', label: 'Select all that match', group, run: selectAll },
  { keys: 'f', label: 'Filter by words', group, run: () => searchField.value?.focus() },
  { keys: 'F', label: 'Show or hide the filters', group, run: () => (filtersOpen.value = !filtersOpen.value) },
])
</script>

<template>
  <ErrorState v-if="pools.pools.error.value" :error="pools.pools.error.value" />
  <EmptyState v-else-if="pools.pools.data.value && !pools.pools.data.value.length" title="No pools yet">
    Items come into pools from <RouterLink :to="{ name: 'check', params: { course } }">Check</RouterLink>, and bring the
    names of their pools along.
    <template v-if="mayEdit">
      Or
      <button class="link-button" @click="pools.create.mutate({ name: 'New pool', parent: null })">
        make an empty pool</button
      >.
    </template>
  </EmptyState>
  <div v-else class="pools" :class="{ reading: open }">
    <PoolTree
      :tree="tree"
      :counted="filtered"
      :current="pool"
      :course="course"
      :may-edit="mayEdit"
      :pools="pools"
      @pick="(id) => go({ pool: id ? String(id) : undefined, item: undefined })"
    />
    <section class="middle">
      <div class="tops">
        <header class="filters">
          <h1>{{ here?.name ?? 'All items' }}</h1>
          <span class="soft">{{ total === undefined ? '…' : items(total) }}</span>
          <span v-if="detail && detail.role !== 'owner'" class="owner"
            >{{ detail.owner }}’s, you {{ detail.role === 'editor' ? 'edit' : 'read' }}</span
          >
          <span class="grow" />
          <ElInput
            ref="searchField"
            v-model="search"
            class="search"
            clearable
            placeholder="Words or “a phrase”"
            aria-label="Filter by words"
          />
          <button type="button" class="link-button" :aria-expanded="filtersOpen" @click="filtersOpen = !filtersOpen">
            Filters{{ filtering.set.value.length ? ` (${filtering.set.value.length})` : '' }} <kbd>F</kbd>
          </button>
        </header>
        <FilterBar :course="course" :filtering="filtering" :open="filtersOpen" />
        <BulkBar
          v-model="chosen"
          :total="total"
          :selection="selection"
          :pools="pools"
          :course="course"
          :may-edit="mayEdit"
        >
          <button
            v-if="pool"
            type="button"
            class="link-button"
            :aria-pressed="filter.with_subpools === false"
            @click="go({ below: filter.with_subpools === false ? undefined : '0' })"
          >
            {{ filter.with_subpools === false ? 'With those below' : 'Without those below' }}
          </button>
          <RouterLink v-if="pool && mayEdit" :to="{ name: 'sorting', params: { course, pool } }">Sort it</RouterLink>
          <RouterLink :to="{ name: 'alike', params: { course } }">Near-duplicates</RouterLink>
          <ElDropdown trigger="click" :hide-on-click="false">
            <button type="button" class="link-button">Columns<span aria-hidden="true"> ▾</span></button>
            <template #dropdown>
              <ElDropdownMenu>
                <ElDropdownItem v-for="column in COLUMNS" :key="column.name" @click="toggle(column.name)">
                  <span class="mark" aria-hidden="true">{{ chosenColumns.includes(column.name) ? '✓' : '' }}</span>
                  {{ column.label
                  }}<span class="visually-hidden">{{
                    chosenColumns.includes(column.name) ? ', shown' : ', not shown'
                  }}</span>
                </ElDropdownItem>
              </ElDropdownMenu>
            </template>
          </ElDropdown>
        </BulkBar>
      </div>
      <ItemTable
        ref="table"
        v-model="chosen"
        :course="course"
        :filter="filter"
        :order="order"
        :open="open"
        :narrow="open > 0"
        @open="(id) => go({ item: String(id) })"
        @total="(count) => (total = count)"
        @sort="filtering.sortBy"
      />
    </section>
    <ItemReader v-if="open" :course="course" :item="open" :may-edit="mayEdit" />
  </div>
</template>

<style scoped>
.pools {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  height: 100%;
}

.pools.reading {
  grid-template-columns: 230px minmax(0, 1fr) minmax(0, 0.8fr);
}

.middle {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
  background: var(--rog-sheet);
  border-inline: 1px solid var(--rog-rule);
}

.filters {
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 10px 14px;
  border-bottom: 1px solid var(--rog-rule);
}

.filters h1 {
  font-size: 19px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.filters .soft,
.filters .link-button {
  white-space: nowrap;
}

.owner {
  padding: 0 8px;
  border: 1px solid var(--rog-rule-strong);
  font-size: 12.5px;
  white-space: nowrap;
}

.grow {
  flex: 1;
}

.search {
  width: 190px;
  min-width: 90px;
}

.mark {
  display: inline-block;
  width: 18px;
}
</style>

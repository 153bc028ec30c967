<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { ItemFilter } from '@/api/queries'
import EmptyState from '@/ui/EmptyState.vue'
import ErrorState from '@/ui/ErrorState.vue'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { items, WORDS } from '@/ui/words'

import BulkBar from './BulkBar.vue'
import ItemReader from './ItemReader.vue'
import ItemTable from './ItemTable.vue'
import PoolTree from './PoolTree.vue'
import { NONE, type Chosen } from './selection'
import { usePools } from './usePools'

const course = useCourse()
const route = useRoute()
const router = useRouter()
const pools = usePools(course)
const pool = computed(() => (route.query.pool ? Number(route.query.pool) : undefined))
const open = computed(() => Number(route.query.item ?? 0))
const filter = computed<ItemFilter>(() => ({
  ...(pool.value ? { pool: pool.value } : {}),
  query: String(route.query.q ?? ''),
  type: String(route.query.type ?? ''),
}))
const chosen = ref<Chosen>(NONE)
const total = ref<number>()
const table = ref<InstanceType<typeof ItemTable>>()
const search = ref(String(route.query.q ?? ''))
const searchField = ref<{ focus: () => void }>()
const here = computed(() => pools.pools.data.value?.find((entry) => entry.id === pool.value))

function go(change: Record<string, string | undefined>): void {
  void router.replace({ query: { ...route.query, ...change } })
}
watch(
  search,
  useDebounceFn((text: string) => go({ q: text || undefined }), 180),
)
watch(filter, () => (chosen.value = NONE))

const selection = computed(() => ({
  ids: chosen.value.all ? [] : chosen.value.ids,
  all_matching: chosen.value.all,
  pool: pool.value ?? null,
  with_subpools: true,
  query: filter.value.query,
  type: filter.value.type,
}))
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
])
</script>

<template>
  <ErrorState v-if="pools.pools.error.value" :error="pools.pools.error.value" />
  <EmptyState v-else-if="pools.pools.data.value && !pools.pools.data.value.length" title="No pools yet">
    Items come into pools from <RouterLink :to="{ name: 'check', params: { course } }">Check</RouterLink>, and bring the
    names of their pools along. Or
    <button class="link-button" @click="pools.create.mutate({ name: 'New pool', parent: null })">
      make an empty pool</button
    >.
  </EmptyState>
  <div v-else class="pools" :class="{ reading: open }">
    <PoolTree
      :tree="pools.tree.value"
      :current="pool"
      @pick="(id) => go({ pool: id ? String(id) : undefined, item: undefined })"
      @create="(name, parent) => pools.create.mutate({ name, parent: parent ?? null })"
      @rename="(id, name) => pools.change.mutate({ id, body: { name, move: false } })"
      @remove="(id) => pools.remove.mutateAsync(id).then(() => go({ pool: undefined }))"
    />
    <section class="middle">
      <header class="filters">
        <h1>{{ here?.name ?? 'All items' }}</h1>
        <span class="soft">{{ total === undefined ? '…' : items(total) }}</span>
        <span class="grow" />
        <ElInput
          ref="searchField"
          v-model="search"
          class="search"
          clearable
          placeholder="Words"
          aria-label="Filter by words"
        />
        <ElSelect
          :model-value="filter.type || 'all'"
          class="type"
          aria-label="Filter by type"
          @update:model-value="(type: string) => go({ type: type === 'all' ? undefined : type })"
        >
          <ElOption value="all" label="all types" />
          <ElOption v-for="(word, type) in WORDS.types" :key="type" :value="type" :label="word" />
        </ElSelect>
      </header>
      <BulkBar v-model="chosen" :total="total" :selection="selection" :pools="pools" :course="course" />
      <ItemTable
        ref="table"
        v-model="chosen"
        :course="course"
        :filter="filter"
        :open="open"
        :narrow="open > 0"
        @open="(id) => go({ item: String(id) })"
        @total="(count) => (total = count)"
      />
    </section>
    <ItemReader v-if="open" :course="course" :item="open" />
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
  grid-template-rows: auto auto minmax(0, 1fr);
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

.filters .soft {
  white-space: nowrap;
}

.grow {
  flex: 1;
}

.search {
  width: 130px;
}

.type {
  width: 128px;
  flex: none;
}
</style>

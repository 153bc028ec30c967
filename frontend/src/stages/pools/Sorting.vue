<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { poolsQuery } from '@/api/queries'
import EmptyState from '@/ui/EmptyState.vue'
import ErrorState from '@/ui/ErrorState.vue'
import ItemView from '@/ui/ItemView.vue'
import { say, sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { items } from '@/ui/words'

import { flat, treeOf } from './usePools'

/** One item at a time, large: a key sends it to one of the pools at hand and shows the next, Enter takes what is suggested. */
const KEYS = '123456789'.split('')
const course = useCourse()
const route = useRoute()
const queries = useQueryClient()
const pool = computed(() => Number(route.params.pool))
const { data: pools } = useQuery(computed(() => poolsQuery(course.value)))
const tree = computed(() => treeOf(pools.value ?? []))
const all = computed(() => flat(tree.value))
const here = computed(() => pools.value?.find((entry) => entry.id === pool.value))
/** The pools at hand, for each pool that is sorted; remembered. */
const remembered = useStorage<Record<number, number[]>>('rogatum-at-hand', {})
const hands = computed(() => {
  const known = remembered.value[pool.value]
  const there = (known ?? usual.value).map((id) => pools.value?.find((entry) => entry.id === id))
  return there.filter((entry) => entry !== undefined).filter((entry) => entry.id !== pool.value).slice(0, KEYS.length) // prettier-ignore
})
/** What lies below the pool that is sorted, else its neighbours. */
const usual = computed(() => {
  const below = pools.value?.filter((entry) => entry.parent === pool.value) ?? []
  const beside = pools.value?.filter((entry) => entry.parent === here.value?.parent && entry.id !== pool.value) ?? []
  return (below.length ? below : beside).map((entry) => entry.id)
})
const ids = computed(() => hands.value.map((entry) => entry.id))
function setHands(chosen: number[]): void {
  remembered.value = { ...remembered.value, [pool.value]: chosen }
}

const skipped = ref<number[]>([])
const step = ref<Schemas['SortingOut']>()
const asked = computed(() => ({ pool: pool.value, pools: ids.value, skipped: skipped.value }))
const { data, error } = useQuery(
  computed(() => ({
    queryKey: ['course', course.value, 'sorting', asked.value],
    enabled: Boolean(pools.value),
    queryFn: () => ok(client.POST('/api/sorting/next', { body: asked.value })),
  })),
)
watch(data, (now) => now && (step.value = now), { immediate: true })
const item = computed(() => step.value?.item ?? undefined)
const best = computed(() => step.value?.suggestions[0])
const bestPool = computed(() => hands.value.find((entry) => entry.id === best.value?.pool))

const send = useMutation({
  mutationFn: (to: number) =>
    ok(client.POST('/api/sorting/send', { body: { ...asked.value, item: item.value?.id ?? 0, to } })),
  onSuccess: (next, to) => {
    if (next.sent) sent.value = [...sent.value, next.sent]
    say(`Into ${hands.value.find((entry) => entry.id === to)?.name}.`)
    step.value = next
    void queries.invalidateQueries({
      queryKey: ['course', course.value],
      predicate: (q) => q.queryKey[2] !== 'sorting',
    })
  },
  onError: sayProblem,
})
function sendTo(to: number | undefined): void {
  if (to && item.value && !send.isPending.value) send.mutate(to)
}
function skip(): void {
  if (item.value && !send.isPending.value)
    skipped.value = [...skipped.value.filter((id) => id !== item.value?.id), item.value.id]
}
/** What was sent in this sorting, to be undone from the last on; what was done before is undone in the bottom bar. */
const sent = ref<number[]>([])
const sorted = computed(() => sent.value.length)
const undo = useMutation({
  mutationFn: (operation: number) =>
    ok(client.POST('/api/operations/{operation_id}/undo', { params: { path: { operation_id: operation } } })),
  onSuccess: async (operation) => {
    sent.value = sent.value.filter((id) => id !== operation.id)
    say(`Undone: ${operation.label}.`)
    await queries.invalidateQueries({ queryKey: ['course', course.value] })
  },
  onError: sayProblem,
})
function undoLast(): void {
  const last = sent.value.at(-1)
  if (last === undefined) say('Nothing was sent in this sorting yet.')
  else if (!undo.isPending.value) undo.mutate(last)
}

const adding = ref<number>()
const name = ref('')
watch(adding, (id) => {
  if (id && !ids.value.includes(id)) setHands([...ids.value, id])
  adding.value = undefined
})
const make = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/pools', {
        params: { path: { course_id: course.value } },
        body: { name: name.value.trim(), parent: pool.value },
      }),
    ),
  onSuccess: async (made) => {
    name.value = ''
    setHands([...ids.value, made.id])
    await queries.invalidateQueries({ queryKey: ['course', course.value] })
  },
  onError: sayProblem,
})
const group = 'Sorting'
useShortcuts([
  ...KEYS.map((keys, place) => ({
    keys,
    label: `Send it to pool ${keys}`,
    group,
    run: () => sendTo(hands.value[place]?.id),
  })),
  { keys: 'Enter', label: 'Send it where it is suggested', group, run: () => sendTo(bestPool.value?.id) },
  { keys: 's', label: 'Skip it for now', group, run: skip },
  { keys: 'u', label: 'Undo the last one', group, run: undoLast },
])
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <div v-else class="sorting">
    <section class="one" aria-label="Item to sort">
      <header class="row spread">
        <span>
          <RouterLink :to="{ name: 'pools', params: { course }, query: { pool: String(pool) } }">{{
            here?.name
          }}</RouterLink>
          <span class="soft told">
            {{ step ? `${items(step.left)} left` : '…'
            }}<template v-if="skipped.length">, {{ skipped.length }} skipped</template
            ><template v-if="sorted">, {{ sorted }} sorted</template></span
          >
        </span>
        <span class="row">
          <button type="button" class="link-button" :disabled="!item" @click="skip">Skip <kbd>s</kbd></button>
          <button type="button" class="link-button" @click="undoLast">Undo <kbd>u</kbd></button>
        </span>
      </header>
      <progress v-if="step && sorted" :value="sorted" :max="sorted + step.left" aria-label="Sorted" />
      <EmptyState v-if="step && !item" title="All sorted">
        Nothing lies in {{ here?.name }} itself any more.
        <RouterLink :to="{ name: 'pools', params: { course }, query: { pool: String(pool) } }"
          >Back to the pools</RouterLink
        >
      </EmptyState>
      <p v-else-if="!item" class="faint">Loading…</p>
      <div v-else class="paper" :class="{ sending: send.isPending.value }">
        <ItemView :key="item.id" :item="item.item" :stimulus="item.stimulus" />
      </div>
    </section>
    <aside aria-label="Pools at hand">
      <h2>Into</h2>
      <p v-if="!hands.length" class="soft">Put two pools or more at hand; each gets a key.</p>
      <ol>
        <li v-for="(entry, place) in hands" :key="entry.id" :class="{ best: entry.id === bestPool?.id }">
          <button type="button" class="plain-button hand" :disabled="!item" @click="sendTo(entry.id)">
            <kbd>{{ KEYS[place] }}</kbd>
            <span class="name">{{ entry.name }}</span>
            <span class="faint">{{ entry.items }}</span>
          </button>
          <button
            type="button"
            class="plain-button faint"
            :aria-label="`Put ${entry.name} out of reach`"
            @click="setHands(ids.filter((id) => id !== entry.id))"
          >
            ×
          </button>
          <p v-if="entry.id === bestPool?.id && best" class="why">
            Suggested <kbd>Enter</kbd>, for
            <template v-for="(word, n) in best.words" :key="word"
              ><span v-if="n">, </span><em>{{ word }}</em></template
            >
            <span class="faint"> ({{ Math.round(best.share * 100) }} %)</span>
          </p>
        </li>
      </ol>
      <p v-if="hands.length > 1 && item && !best" class="soft">
        Nothing speaks for one of them yet. Sort a few; suggestions come with what lies in the pools.
      </p>
      <ElSelect v-model="adding" filterable placeholder="Put another pool at hand" aria-label="Pool to put at hand">
        <ElOption
          v-for="entry in all.filter((choice) => choice.id !== pool && !ids.includes(choice.id))"
          :key="entry.id"
          :value="entry.id"
          :label="entry.path"
        />
      </ElSelect>
      <form class="row new" @submit.prevent="name.trim() && make.mutate()">
        <ElInput v-model="name" aria-label="Name of a new pool" :placeholder="`New pool in ${here?.name ?? ''}`" />
        <ElButton native-type="submit" :disabled="!name.trim()">Make it</ElButton>
      </form>
    </aside>
  </div>
</template>

<style scoped>
.sorting {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  height: 100%;
}

.one {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 26px 24px;
  overflow: auto;
  background: var(--rog-sheet);
}

header .row {
  gap: 18px;
}

.told {
  margin-left: 10px;
}

progress {
  width: 100%;
  height: 5px;
  accent-color: var(--rog-ink);
}

.paper {
  max-width: 720px;
  margin: 18px auto;
  width: 100%;
  font-size: 118%;
}

.paper.sending {
  opacity: 0.55;
}

aside {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px 18px;
  overflow: auto;
  border-left: 1px solid var(--rog-rule);
}

ol {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 20px;
  border-top: 1px solid var(--rog-rule);
}

li.best {
  background: var(--rog-joined);
}

li.best .faint,
.hand:hover .faint {
  color: var(--rog-ink-soft);
}

.hand {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: baseline;
  padding: 8px 6px;
}

.hand kbd {
  justify-self: center;
}

.hand:hover {
  background: var(--rog-well);
}

.hand .name {
  font: 16px var(--rog-serif);
}

.why {
  grid-column: 1 / -1;
  margin: 0;
  padding: 0 6px 8px 40px;
  font-size: 13px;
}

.new {
  flex-wrap: nowrap;
}
</style>

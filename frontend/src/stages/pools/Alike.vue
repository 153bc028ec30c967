<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { coursesQuery, pairQuery, pairsQuery, poolsQuery } from '@/api/queries'
import DiffLines from '@/ui/DiffLines.vue'
import EmptyState from '@/ui/EmptyState.vue'
import ErrorState from '@/ui/ErrorState.vue'
import ItemView from '@/ui/ItemView.vue'
import { say, sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { when } from '@/ui/words'

type Decision = Schemas['DecideIn']['decision']
type Side = Schemas['SideOut']

/** Near-duplicates over all courses that one may see: pair by pair, side by side, each decided by one key. */
const course = useCourse()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { mayEdit } = useRole(course)
const all = ref(false)
/** How many of the pairs are listed; what is decided makes room for others. */
const listed = ref(200)
const MOST = 1000
/** The list can be narrowed to a course, or to a pool of this one. */
const only = ref('')
const narrowed = computed(() => {
  const [kind, id] = only.value.split('-')
  return kind ? { [kind]: Number(id) } : {}
})
const { data: courses } = useQuery(coursesQuery())
const { data: pools } = useQuery(computed(() => poolsQuery(course.value)))
const { data: pairs, error } = useQuery(
  computed(() => ({ ...pairsQuery(all.value, listed.value, narrowed.value), placeholderData: keepPreviousData })),
)
const open = computed(() => Number(route.params.pair ?? 0))
const { data: pair, error: gone } = useQuery(computed(() => ({ ...pairQuery(open.value), enabled: open.value > 0 })))
const asWhole = ref(false)

/** A pair that is open by its own address though it was decided. */
const decidedOne = computed(() => pair.value?.id === open.value && Boolean(pair.value.decision))
function show(id: number | undefined): void {
  void router.replace({ name: 'alike', params: { course: course.value, ...(id ? { pair: id } : {}) } })
}
watch(
  pairs,
  (now) => {
    if (!now || now.running || now.rows.some((row) => row.id === open.value)) return
    // Found anew, a pair has another number; and what was decided is not shown any more.
    if (!open.value || !decidedOne.value) show(now.rows[0]?.id)
  },
  { immediate: true },
)
const look = useMutation({
  mutationFn: () =>
    ok(client.POST('/api/courses/{course_id}/alike', { params: { path: { course_id: course.value } } })),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['course'] }),
  onError: sayProblem,
})
const decide = useMutation({
  mutationFn: (decision: Decision) =>
    ok(client.POST('/api/alike/{pair_id}', { params: { path: { pair_id: open.value } }, body: { decision } })),
  onSuccess: async (done) => {
    say(done.words)
    show(done.next ?? undefined)
    await queries.invalidateQueries({ queryKey: ['course'] })
  },
  onError: sayProblem,
})
const may = computed<Record<Decision, boolean>>(() => ({
  a: Boolean(pair.value?.b.editable),
  b: Boolean(pair.value?.a.editable),
  both: Boolean(pair.value),
  'merge-a': Boolean(pair.value?.a.editable && pair.value.b.editable),
  'merge-b': Boolean(pair.value?.a.editable && pair.value.b.editable),
}))
function choose(decision: Decision): void {
  if (may.value[decision] && !decide.isPending.value) decide.mutate(decision)
}
function step(by: number): void {
  const rows = pairs.value?.rows ?? []
  const next = rows[rows.findIndex((row) => row.id === open.value) + by]
  if (next) show(next.id)
}
const where = (side: Side) => `${side.course_name}: ${side.path.join(' / ')}`
/** What a decision changes in another course than this one, said before it is made. */
function changesElsewhere(decision: Decision): string {
  if (!pair.value) return ''
  const { a, b, changes } = pair.value
  const names = new Map([a, b].map((side) => [side.course, side.course_name]))
  const others = (changes[decision] ?? []).filter((id) => id !== course.value)
  return others.map((id) => names.get(id)).join(' and ')
}
const sides = computed(() =>
  pair.value
    ? ([
        { side: pair.value.a, key: 'l', keep: 'a', merge: 'merge-a', name: 'left', takes: pair.value.into_a },
        { side: pair.value.b, key: 'r', keep: 'b', merge: 'merge-b', name: 'right', takes: pair.value.into_b },
      ] as const)
    : [],
)
const group = 'Near-duplicates'
useShortcuts([
  { keys: 'ArrowDown', label: 'Next pair', group, run: () => step(1) },
  { keys: 'ArrowUp', label: 'Pair before', group, run: () => step(-1) },
  { keys: 'l', label: 'Keep the left one', group, run: () => choose('a') },
  { keys: 'r', label: 'Keep the right one', group, run: () => choose('b') },
  { keys: 'b', label: 'Keep both', group, run: () => choose('both') },
  { keys: 'L', label: 'Merge into the left one', group, run: () => choose('merge-a') },
  { keys: 'R', label: 'Merge into the right one', group, run: () => choose('merge-b') },
  { keys: 'w', label: 'Show whole items, or where they differ', group, run: () => (asWhole.value = !asWhole.value) },
])
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <div v-else class="alike">
    <aside aria-label="Pairs">
      <header>
        <h1>Near-duplicates</h1>
        <p class="soft">
          <template v-if="pairs?.running">Looking for them in all courses…</template>
          <template v-else-if="pairs?.looked"
            >{{ pairs.open.toLocaleString('en') }} open, looked for {{ when(pairs.looked) }}</template
          >
          <template v-else>Not looked for yet</template>
        </p>
        <div class="row">
          <ElButton
            v-if="mayEdit"
            size="small"
            :type="pairs?.looked ? undefined : 'primary'"
            :loading="look.isPending.value || pairs?.running"
            @click="look.mutate()"
            >{{ pairs?.looked ? 'Look again' : 'Look in all my courses' }}</ElButton
          >
          <label><input v-model="all" type="checkbox" /> decided ones too</label>
        </div>
        <select v-model="only" aria-label="Where" class="only">
          <option value="">in all courses</option>
          <option v-for="entry in courses" :key="entry.id" :value="`course-${entry.id}`">in {{ entry.name }}</option>
          <option v-for="entry in pools" :key="entry.id" :value="`pool-${entry.id}`">
            in the pool {{ entry.name }}
          </option>
        </select>
      </header>
      <ul>
        <li v-for="row in pairs?.rows" :key="row.id">
          <button
            type="button"
            class="plain-button pair"
            :class="{ here: row.id === open }"
            :aria-current="row.id === open ? 'true' : undefined"
            @click="show(row.id)"
          >
            <span class="text">{{ row.text || 'no stem' }}</span>
            <span class="faint"
              >{{ row.percent }} %{{ row.courses.length > 1 ? `, ${row.courses.join(' and ')}` : '' }}</span
            >
          </button>
        </li>
        <li v-if="pairs && pairs.total > pairs.rows.length" class="rest">
          <span class="soft">{{ (pairs.total - pairs.rows.length).toLocaleString('en') }} more, less alike</span>
          <button v-if="listed < MOST" type="button" class="link-button" @click="listed += 200">Show more</button>
        </li>
      </ul>
    </aside>
    <section class="both" aria-label="Pair">
      <ErrorState v-if="gone" :error="gone" />
      <EmptyState v-else-if="!pair" :title="pairs?.looked ? 'No pair is open' : 'Which items stand twice?'">
        <template v-if="pairs?.looked">All that read alike was decided. Look again when new items have come.</template>
        <template v-else>
          All items of all your courses are held against each other. Then each pair is yours to decide: keep one, keep
          both, or merge them, so that nothing of either is lost.
        </template>
      </EmptyState>
      <template v-else>
        <header class="row spread">
          <h2>{{ pair.percent === 100 ? 'The same words' : `${pair.percent} per cent alike` }}</h2>
          <button type="button" class="link-button" :aria-pressed="asWhole" @click="asWhole = !asWhole">
            {{ asWhole ? 'Where they differ' : 'Whole items' }} <kbd>w</kbd>
          </button>
        </header>
        <div class="sides">
          <div v-for="entry in sides" :key="entry.keep" class="side">
            <p class="where">
              <RouterLink :to="{ name: 'item', params: { course: entry.side.course, item: entry.side.id } }">{{
                where(entry.side)
              }}</RouterLink>
            </p>
            <p class="soft">
              {{ entry.side.owner }}’s, changed {{ when(entry.side.updated)
              }}<template v-if="entry.side.origin">, from {{ entry.side.origin }}</template>
            </p>
            <p v-if="entry.side.quizzes.length" class="soft">In {{ entry.side.quizzes.join(', ') }}</p>
            <p v-if="!entry.side.editable" class="soft">You read this course: this one stays.</p>
          </div>
        </div>
        <div v-if="asWhole" class="sides whole">
          <ItemView v-for="entry in sides" :key="entry.keep" :item="entry.side.item" :stimulus="entry.side.stimulus" />
        </div>
        <DiffLines v-else :lines="pair.lines" a="left" b="right" beside />
        <footer class="decide" role="group" aria-label="What becomes of them">
          <div v-for="entry in sides" :key="entry.keep">
            <ElButton :disabled="!may[entry.keep]" @click="choose(entry.keep)"
              >Keep {{ entry.name }} <kbd>{{ entry.key }}</kbd></ElButton
            >
            <ElButton :disabled="!may[entry.merge]" @click="choose(entry.merge)"
              >Merge into {{ entry.name }} <kbd>{{ entry.key.toUpperCase() }}</kbd></ElButton
            >
            <p v-if="may[entry.keep] && changesElsewhere(entry.keep)" class="elsewhere">
              Keep {{ entry.name }} deletes the other one in {{ changesElsewhere(entry.keep) }}.
            </p>
            <p v-if="may[entry.merge] && changesElsewhere(entry.merge)" class="elsewhere">
              Merging changes {{ changesElsewhere(entry.merge) }}.
            </p>
            <p class="faint">
              {{
                entry.takes.length ? `It would take over ${entry.takes.join(', ')}.` : 'It lacks nothing of the other.'
              }}
            </p>
          </div>
          <ElButton class="middle" @click="choose('both')">Keep both <kbd>b</kbd></ElButton>
        </footer>
      </template>
    </section>
  </div>
</template>

<style scoped>
.only {
  width: 100%;
  min-width: 0;
  margin-top: 6px;
}

.elsewhere {
  color: var(--rog-caution);
}

.alike {
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr);
  height: 100%;
}

aside {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
  border-right: 1px solid var(--rog-rule);
}

aside header {
  padding: 14px 16px 10px;
}

aside h1 {
  font-size: 20px;
}

aside p {
  margin: 4px 0 8px;
}

aside .row {
  gap: 14px;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
}

.pair {
  display: grid;
  width: 100%;
  padding: 7px 16px;
  border-top: 1px solid var(--rog-rule);
  font-size: 12.5px;
}

.pair:hover {
  background: var(--rog-well);
}

.pair.here {
  background: var(--rog-joined);
}

.pair.here .faint,
.pair:hover .faint {
  color: var(--rog-ink-soft);
}

.pair .text {
  font: 15px var(--rog-serif);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.rest {
  display: flex;
  justify-content: space-between;
  padding: 8px 16px;
  border-top: 1px solid var(--rog-rule);
}

.both {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px 22px 0;
  overflow: auto;
  background: var(--rog-sheet);
}

.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 22px;
  padding-left: 104px;
}

.sides.whole {
  padding-left: 0;
}

.side p {
  margin: 0;
  font-size: 13px;
}

.side .where {
  font-size: 14px;
  font-weight: 600;
}

.decide {
  position: sticky;
  bottom: 0;
  display: grid;
  grid-template-columns: 1fr auto 1fr;
  align-items: start;
  gap: 10px 18px;
  margin-top: auto;
  padding: 12px 0;
  border-top: 1px solid var(--rog-rule-strong);
  background: var(--rog-sheet);
}

.decide > div:nth-child(2) {
  grid-column: 3;
  text-align: right;
}

.decide .middle {
  grid-column: 2;
  grid-row: 1;
}

.decide p {
  margin: 4px 0 0;
  font-size: 12.5px;
}

.decide .el-button {
  margin-right: 8px;
}
</style>

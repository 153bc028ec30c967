<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'

import { formatsQuery, sumsQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import TypedField from '@/ui/TypedField.vue'
import { items, WORDS } from '@/ui/words'

import type { Quiz } from './useQuiz'

/** What a quiz adds up to: exposure with its plot, time and reading, outcomes and types, and what is left to do. */
const Plot = defineAsyncComponent(() => import('@/ui/Plot.vue'))
const props = defineProps<{ quiz: Quiz; course: number }>()
const students = ref(0)
const format = useLocalStorage('rogatum-sums-format', '')
const { data: formats } = useQuery(formatsQuery())
const writable = computed(() => formats.value?.filter((entry) => entry.write) ?? [])
const { data: sums, error } = useQuery(
  computed(() => ({
    ...sumsQuery(props.course, props.quiz.id, students.value, format.value),
    placeholderData: keepPreviousData,
    enabled: props.quiz.figures.items > 0,
  })),
)

const short = (number: number) => Number(number.toFixed(1))
const percent = (share: number) => `${Number((share * 100).toFixed(share < 0.1 && share > 0 ? 1 : 0))} %`
/** The bars that can be seen: those at the ends that nobody meets are left out. */
const bars = computed(() => {
  const chances = sums.value?.chances ?? []
  const seen = chances.map((chance, count) => ({ name: String(count), value: chance * 100 }))
  const first = chances.findIndex((chance) => chance >= 0.0005)
  const last = chances.findLastIndex((chance) => chance >= 0.0005)
  return seen.slice(Math.max(0, first - 1), last + 2)
})
const same = computed(() => sums.value !== undefined && sums.value.can_give === props.quiz.figures.items)
const said = computed(() => {
  const now = sums.value
  if (!now) return ''
  const mode = now.chances.indexOf(Math.max(...now.chances))
  return `How many items two students share: most often ${mode}, on average ${short(now.overlap)}, at most ${now.worst}.`
})
const most = computed(() => {
  const found = sums.value?.most
  if (!found) return ''
  const range = found.low === found.high ? '' : ` (${found.low} to ${found.high} in nine of ten classes, simulated)`
  return `${found.middle}${range}`
})
const list = (counts: Record<string, number>, words: Record<string, string> = {}) =>
  Object.entries(counts).map(([name, count]) => `${words[name] ?? name} × ${short(count)}`)
const lacking = computed(() => Object.entries(sums.value?.not_taken ?? {}))
</script>

<template>
  <h2>It adds up to</h2>
  <dl>
    <div>
      <dt>Items for each student</dt>
      <dd>
        {{ quiz.figures.items
        }}<span v-if="sums && sums.can_give > quiz.figures.items" class="soft"> of {{ sums.can_give }}</span>
      </dd>
    </div>
    <div>
      <dt>Points</dt>
      <dd :class="{ differ: quiz.figures.points === null }">{{ quiz.figures.points ?? 'differ' }}</dd>
    </div>
    <template v-if="sums">
      <div>
        <dt>Time, by the rule in the guide</dt>
        <dd>{{ Math.round(sums.minutes) }} min</dd>
      </div>
      <div>
        <dt>To read</dt>
        <dd>{{ sums.words.toLocaleString('en') }} words</dd>
      </div>
    </template>
  </dl>
  <p v-for="problem in quiz.figures.problems" :key="problem" class="problem">{{ problem }}</p>

  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!sums && quiz.figures.items" class="faint">Counting what students will share…</p>
  <template v-else-if="sums">
    <h3>What two students share</h3>
    <p v-if="same" class="soft">All students get the same {{ items(quiz.figures.items) }}.</p>
    <Plot v-else :bars="bars" :said="said" unit="%" along="items in common" />
    <p v-if="!same" class="soft">
      {{ short(sums.overlap) }} items on average<template v-if="sums.margin">
        (± {{ sums.margin.toFixed(2) }}, simulated)</template
      >, {{ sums.worst }} at worst; {{ percent(sums.at_least_half) }} of pairs share half or more.
    </p>
    <p v-for="tangle in sums.tangled" :key="tangle" class="tangle">{{ tangle }}</p>
    <dl v-if="!same">
      <div>
        <dt>
          The most in a class of
          <TypedField
            :model-value="sums.students"
            inputmode="numeric"
            class="count"
            aria-label="Students in the class"
            @update:model-value="(typed) => (students = Math.min(500, Math.max(0, Number(typed) || 0)))"
          />
        </dt>
        <dd>{{ most }}</dd>
      </div>
      <div v-for="entry in sums.seen" :key="entry.chance">
        <dt>{{ items(entry.items) }} seen by</dt>
        <dd>{{ entry.chance >= 1 ? 'everyone' : `${percent(entry.chance)} of students` }}</dd>
      </div>
      <template v-if="sums.attempts">
        <div>
          <dt>Of one attempt, seen again in the next</dt>
          <dd>{{ short(sums.attempts.again) }}</dd>
        </div>
        <div>
          <dt>Different items in {{ sums.attempts.attempts }} attempts</dt>
          <dd>{{ short(sums.attempts.different) }}</dd>
        </div>
      </template>
    </dl>

    <h3>What it covers</h3>
    <table v-if="sums.plan.length" class="plan">
      <thead>
        <tr>
          <th>Of the plan</th>
          <th class="number">asked</th>
          <th class="number">given</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, n) in sums.plan" :key="n" :class="{ problem: row.given < row.wanted - 0.001 }">
          <td>{{ row.label }}</td>
          <td class="number">{{ row.wanted }}</td>
          <td class="number">{{ short(row.given) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="Object.keys(sums.outcomes).length">
      <span class="soft">Outcomes</span> {{ list(sums.outcomes).join(' · ') }}
    </p>
    <p><span class="soft">Types</span> {{ list(sums.types, WORDS.types).join(' · ') }}</p>
    <p v-if="Object.keys(sums.keys).length">
      <span class="soft">Keys stand at</span> {{ list(sums.keys).join(' · ') }}
    </p>

    <h3>Left to do</h3>
    <dl>
      <div>
        <dt>Without feedback</dt>
        <dd>{{ sums.without_feedback }} of {{ sums.can_give }}</dd>
      </div>
      <div>
        <dt>With open advice</dt>
        <dd>{{ sums.advised }}</dd>
      </div>
      <div>
        <dt>
          <label
            >Cannot be taken by
            <select v-model="format" aria-label="Format to hand it on in">
              <option value="">a format…</option>
              <option v-for="entry in writable" :key="entry.name" :value="entry.name">{{ entry.label }}</option>
            </select></label
          >
        </dt>
        <dd>
          <template v-if="format">{{
            lacking.length ? lacking.map(([type, n]) => `${n} ${WORDS.types[type] ?? type}`).join(', ') : 'none'
          }}</template>
        </dd>
      </div>
    </dl>
  </template>
</template>

<style scoped>
h3 {
  margin: 18px 0 4px;
}

dl {
  margin: 6px 0 0;
}

dl div {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rog-rule);
}

dt {
  color: var(--rog-ink-soft);
}

dd {
  margin: 0;
  font-weight: 600;
  text-align: right;
}

.differ,
.problem {
  color: var(--rog-signal);
}

.tangle {
  padding-left: 10px;
  border-left: 3px solid var(--rog-caution);
}

.count {
  width: 44px;
  font: inherit;
  color: inherit;
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--rog-rule-strong);
  text-align: center;
}

.plan {
  width: 100%;
  margin-bottom: 8px;
}

.plan th {
  font-weight: 400;
  color: var(--rog-ink-soft);
  text-align: left;
}

.plan th.number {
  text-align: right;
}

.plan td {
  padding: 2px 0;
  border-bottom: 1px solid var(--rog-rule);
}
</style>

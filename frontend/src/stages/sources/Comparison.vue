<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { comparisonQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import LedgerTable from '@/ui/ledger/LedgerTable.vue'
import { say, sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { items, WORDS } from '@/ui/words'

/** Two readings of one test against each other: which arrived more whole and in what, and which one to go on with. */
const course = useCourse()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const id = computed(() => Number(route.params.comparison))
const { data: made, error } = useQuery(computed(() => comparisonQuery(course.value, id.value)))
const whole = computed(() => made.value?.ledger.whole)
const sides = computed(() => [made.value?.a, made.value?.b] as const)
const better = computed(() =>
  whole.value?.more === 'a' ? made.value?.a : whole.value?.more === 'b' ? made.value?.b : undefined,
)
const shared = computed(() => (made.value?.ledger.items ?? []).some((entry) => entry.a && entry.b))
const heading = computed(() => {
  if (!shared.value) return 'No item is in both: these are two tests'
  return better.value ? `${better.value.name} arrived more whole` : 'Both arrived equally whole'
})
const differing = computed(() => (whole.value?.aspects ?? []).filter((aspect) => aspect.more !== 'even'))

const goOn = useMutation({
  mutationFn: (side: 'a' | 'b') =>
    ok(
      client.POST('/api/comparisons/{comparison_id}/go-on', {
        params: { path: { comparison_id: id.value } },
        body: { side },
      }),
    ),
  onSuccess: async (kept) => {
    say(`Going on with ${kept.name}; the other one is set aside.`)
    await queries.invalidateQueries({ queryKey: ['course', course.value] })
    await router.push({ name: 'reading', params: { course: course.value, reading: kept.reading } })
  },
  onError: sayProblem,
})
</script>

<template>
  <ErrorState v-if="error" :error="error">
    <RouterLink :to="{ name: 'sources', params: { course } }">All sources</RouterLink>
  </ErrorState>
  <p v-else-if="!made" class="faint loading">Loading the comparison…</p>
  <div v-else class="comparison">
    <header>
      <h1>{{ heading }}</h1>
      <table class="sides">
        <thead>
          <tr>
            <td />
            <th v-for="side in sides" :key="side!.source" scope="col">
              {{ side!.name }} <span class="faint">{{ WORDS.formats[side!.format] }}, {{ items(side!.items) }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="aspect in differing" :key="aspect.name">
            <th scope="row">{{ aspect.name }}</th>
            <td :class="{ more: aspect.more === 'a' }">{{ aspect.a }}</td>
            <td :class="{ more: aspect.more === 'b' }">{{ aspect.b }}</td>
          </tr>
          <tr>
            <th scope="row">{{ differing.length ? 'the rest is even' : 'all that is counted is even' }}</th>
            <td v-for="side in ['a', 'b'] as const" :key="side">
              <ElButton
                size="small"
                :type="shared && whole?.more === side ? 'primary' : undefined"
                :loading="goOn.isPending.value"
                @click="goOn.mutate(side)"
              >
                Go on with this one
              </ElButton>
            </td>
          </tr>
        </tbody>
      </table>
    </header>
    <LedgerTable :ledger="made.ledger" :sides="[made.a.name, made.b.name]" />
  </div>
</template>

<style scoped>
.loading {
  padding: 24px;
}

.comparison {
  display: flex;
  flex-direction: column;
  height: 100%;
}

header {
  padding: 16px 20px 12px;
}

.sides {
  margin-top: 8px;
}

.sides th,
.sides td {
  padding: 3px 26px 3px 0;
  text-align: left;
  font-weight: 400;
}

.sides thead th {
  font-weight: 500;
}

.sides tbody th {
  color: var(--rog-ink-soft);
}

.more {
  font-weight: 600;
}

.more::after {
  content: ' more';
  font-weight: 400;
  color: var(--rog-key);
}
</style>

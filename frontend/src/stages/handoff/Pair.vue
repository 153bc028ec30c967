<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { handoffQuery, pairOfHandoffsQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import LedgerTable from '@/ui/ledger/LedgerTable.vue'
import { useCourse } from '@/ui/useCourse'
import { when } from '@/ui/words'

/** Two hand-offs by what was meant by them, the older first. */
const course = useCourse()
const route = useRoute()
const first = computed(() => Math.min(Number(route.params.handoff), Number(route.params.other)))
const second = computed(() => Math.max(Number(route.params.handoff), Number(route.params.other)))
const { data: ledger, error } = useQuery(computed(() => pairOfHandoffsQuery(course.value, first.value, second.value)))
const { data: older } = useQuery(computed(() => handoffQuery(course.value, first.value)))
const { data: newer } = useQuery(computed(() => handoffQuery(course.value, second.value)))
const name = (handoff: typeof older.value) =>
  handoff ? `${handoff.title} for ${handoff.receiver_title || handoff.label}, ${when(handoff.created)}` : '…'
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!ledger" class="faint loading">Holding them side by side…</p>
  <div v-else class="pair">
    <header>
      <h1>Two hand-offs</h1>
      <p class="soft">{{ name(older) }} <br />and {{ name(newer) }}: what was meant then, and what was meant now.</p>
    </header>
    <LedgerTable :ledger="ledger" :sides="['then', 'now']" />
  </div>
</template>

<style scoped>
.loading {
  padding: 24px;
}

.pair {
  display: flex;
  flex-direction: column;
  height: 100%;
}

header {
  padding: 16px 20px 10px;
}
</style>

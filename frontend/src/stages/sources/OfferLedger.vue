<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { offerLedgerQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import LedgerTable from '@/ui/ledger/LedgerTable.vue'
import { useCourse } from '@/ui/useCourse'
import { items } from '@/ui/words'

/** What was sent against what its file holds: nothing was lost on the way. */
const course = useCourse()
const route = useRoute()
const { data, error } = useQuery(computed(() => offerLedgerQuery(Number(route.params.offer))))
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!data" class="faint wait">Loading…</p>
  <div v-else class="page">
    <p><RouterLink :to="{ name: 'sources', params: { course } }">Sources</RouterLink></p>
    <h1>{{ data.title }}, sent by {{ data.sender }}</h1>
    <p class="soft">
      {{ items(data.ledger.items?.length ?? 0) }}: as they were sent, against what the file of the offer holds.
    </p>
    <LedgerTable :ledger="data.ledger" :sides="['sent', 'its file']" />
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  height: 100%;
  padding: 16px 24px;
}

.wait {
  padding: 24px;
}
</style>

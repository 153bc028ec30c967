<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { handoffQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import LedgerTable from '@/ui/ledger/LedgerTable.vue'
import { useCourse } from '@/ui/useCourse'
import { items, size } from '@/ui/words'

const course = useCourse()
const route = useRoute()
const id = computed(() => Number(route.params.handoff))
const { data: handoff, error } = useQuery(computed(() => handoffQuery(course.value, id.value)))
const sound = computed(() => handoff.value?.sound)
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!handoff" class="faint loading">Loading the ledger…</p>
  <div v-else class="ledger">
    <header>
      <div>
        <h1>{{ handoff.title }} as {{ handoff.label }}</h1>
        <p class="soft">
          <template v-if="sound">Read back and compared: nothing was changed, nothing was lost.</template>
          <template v-else
            >Read back and compared. What follows differs over there; look before you hand it on.</template
          >
          <br /><span class="faint">{{ items(handoff.items) }}, {{ size(handoff.size) }}</span>
        </p>
      </div>
      <div class="row">
        <a :href="`/api/handoffs/${handoff.id}/ledger`" download>Save the ledger</a>
        <a class="download" :href="`/api/handoffs/${handoff.id}/file`" download :title="handoff.file_name"
          >Download the {{ handoff.label }} file</a
        >
      </div>
    </header>
    <p v-for="proof in handoff.ledger.proofs ?? []" :key="proof.source" class="proof">
      <strong>{{ proof.words }}</strong>
      <span class="soft"
        >{{ proof.source }}, before its items were taken; {{ items(proof.items) }} of this hand-off are of them (seed
        {{ proof.seed }})</span
      >
    </p>
    <LedgerTable :ledger="handoff.ledger" :sides="['meant', 'read back']" />
  </div>
</template>

<style scoped>
.loading {
  padding: 24px;
}

.ledger {
  display: flex;
  flex-direction: column;
  height: 100%;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: flex-start;
  gap: 24px;
  padding: 16px 20px 10px;
}

header p {
  margin: 4px 0 0;
}

header .row {
  gap: 18px;
  flex: none;
}

.download {
  background: var(--rog-ink);
  color: var(--rog-paper);
  padding: 6px 14px;
  border-radius: 2px;
  text-decoration: none;
  font-weight: 500;
}

.proof {
  margin: 0;
  padding: 0 20px 6px;
}

.proof strong {
  font-weight: 500;
  color: var(--rog-key);
}
</style>

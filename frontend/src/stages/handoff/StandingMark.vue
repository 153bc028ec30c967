<script setup lang="ts">
import VerdictMark from '@/ui/ledger/VerdictMark.vue'

import type { Standing } from './useForecast'

/** How an item stands at a receiver: a verdict, or that it is not taken. */
/** With `bare` the count stands alone, where a heading says of what. */
defineProps<{ standing: Standing; count?: number; bare?: boolean }>()
</script>

<template>
  <span v-if="standing === 'refused'" class="refused" title="refused"
    ><span aria-hidden="true">⊘</span
    ><template v-if="count !== undefined"
      >{{ count }}<span :class="{ 'visually-hidden': bare }">{{ ' refused' }}</span></template
    ><span v-else class="visually-hidden">refused</span></span
  >
  <VerdictMark v-else :verdict="standing" :count="count" :bare="bare" />
</template>

<style scoped>
.refused {
  display: inline-flex;
  gap: 6px;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
  color: var(--rog-signal);
  font-weight: 700;
}
</style>

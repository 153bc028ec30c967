<script setup lang="ts">
defineProps<{ verdict: string; count?: number; bare?: boolean }>()
const MARKS: Record<string, string> = { same: '=', recast: '≈', changed: '≠', lost: '∅', added: '+' }
</script>

<template>
  <span class="verdict" :class="verdict" :title="verdict">
    <span aria-hidden="true">{{ MARKS[verdict] }}</span><template v-if="count !== undefined"
      >{{ count }}<span :class="{ 'visually-hidden': bare }">{{ ` ${verdict}` }}</span></template
    ><span v-else class="visually-hidden">{{ verdict }}</span>
  </span>
</template>

<style scoped>
.verdict {
  display: inline-flex;
  gap: 6px;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}

.same {
  color: var(--rog-verdict-same);
}

.recast {
  color: var(--rog-verdict-recast);
}

.changed {
  color: var(--rog-verdict-changed);
}

.lost {
  color: var(--rog-verdict-lost);
}

.added {
  color: var(--rog-verdict-added);
}

.recast,
.changed,
.lost,
.added {
  font-weight: 700;
}
</style>

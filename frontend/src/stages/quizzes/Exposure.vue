<script setup lang="ts">
import { computed, ref } from 'vue'

import { items } from '@/ui/words'

import type { Part } from './useQuiz'

/** What two students share of one draw, and how many items the pool needs for them to share less. */
const props = defineProps<{ draw: NonNullable<Part['draw']>; pick: number; name: string }>()

const overlap = ref(1)
const needed = computed(() => props.draw.needed[Math.min(overlap.value, props.draw.needed.length) - 1])
const short = (number: number) => Number(number.toFixed(1))
const percent = (share: number) => `${Math.round(share * 100)} %`
</script>

<template>
  <p class="soft" :class="{ short: draw.pool_size < pick }">
    <template v-if="draw.pool_size < pick"
      >Only {{ items(draw.pool_size) }} can be drawn: draw fewer, or widen where they come from.</template
    >
    <template v-else>
      Two students share {{ short(draw.overlap) }} of these {{ pick }} on average, {{ draw.worst }} at worst;
      {{ percent(draw.at_least_half) }} of pairs share {{ draw.half }} or more.
      <label v-if="draw.needed.length">
        For
        <select v-model.number="overlap" :aria-label="`Wanted overlap of ${name}`">
          <option v-for="(_, n) in draw.needed" :key="n" :value="n + 1">{{ n + 1 }}</option>
        </select>
        in common on average the pool needs {{ items(needed ?? 0) }}.
      </label>
    </template>
  </p>
</template>

<style scoped>
select {
  padding: 0 22px 0 6px;
}

.short {
  color: var(--rog-signal);
}
</style>

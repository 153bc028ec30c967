<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'

/** One accepted number with its tolerance, or a range, whose bounds count or not. */
const answer = defineModel<Schemas['NumericAnswer']>({ required: true })

type Kind = 'absolute' | 'relative' | 'significant' | 'decimal'
const KINDS: Record<Kind, string> = {
  absolute: '±',
  relative: '± per cent',
  significant: 'to significant figures',
  decimal: 'to decimals',
}
const kind = computed<Kind>(() => {
  if (answer.value.figures != null) return answer.value.rounding ?? 'significant'
  return answer.value.relative != null ? 'relative' : 'absolute'
})
const amount = computed(() => {
  if (kind.value === 'relative') return answer.value.relative
  return kind.value === 'absolute' ? (answer.value.tolerance ?? 0) : answer.value.figures
})

function numberOf(event: Event): number | null {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  return text === '' || Number.isNaN(Number(text)) ? null : Number(text)
}

/** What the tolerance comes from is said by one field alone; the core works out the rest. */
function setTolerance(wanted: Kind, value: number): void {
  const rounds = wanted === 'significant' || wanted === 'decimal'
  answer.value = {
    ...answer.value,
    tolerance: wanted === 'absolute' ? value : null,
    relative: wanted === 'relative' ? value : null,
    figures: rounds ? Math.max(0, Math.round(value)) : null,
    rounding: wanted === 'decimal' ? 'decimal' : 'significant',
    include_min: true,
    include_max: !rounds,
  }
}

function set(part: Partial<Schemas['NumericAnswer']>): void {
  answer.value = { ...answer.value, ...part }
}
</script>

<template>
  <span class="row">
    <template v-if="answer.value != null">
      <input :value="answer.value" aria-label="Value" @change="set({ value: numberOf($event) ?? 0 })" />
      <select
        :value="kind"
        aria-label="Tolerance is"
        @change="setTolerance(($event.target as HTMLSelectElement).value as Kind, amount ?? 0)"
      >
        <option v-for="(label, name) in KINDS" :key="name" :value="name">{{ label }}</option>
      </select>
      <input
        :value="amount"
        :aria-label="kind === 'absolute' || kind === 'relative' ? 'Tolerance' : 'Figures'"
        @change="setTolerance(kind, numberOf($event) ?? 0)"
      />
    </template>
    <template v-else>
      <input :value="answer.min" aria-label="Least" @change="set({ min: numberOf($event) })" />
      <label
        ><input
          type="checkbox"
          :checked="answer.include_min !== false"
          @change="set({ include_min: ($event.target as HTMLInputElement).checked })"
        />
        the bound counts</label
      >
      to
      <input :value="answer.max" aria-label="Most" @change="set({ max: numberOf($event) })" />
      <label
        ><input
          type="checkbox"
          :checked="answer.include_max !== false"
          @change="set({ include_max: ($event.target as HTMLInputElement).checked })"
        />
        the bound counts</label
      >
    </template>
  </span>
</template>

<style scoped>
input:not([type='checkbox']),
select {
  width: 90px;
  font: inherit;
  color: inherit;
  background-color: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  padding: 3px 8px;
}

select {
  width: auto;
}

/* Room for the arrow of the list. */
select {
  padding-right: 26px;
}
</style>

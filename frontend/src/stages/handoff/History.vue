<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { Schemas } from '@/api/client'
import { items, size, when } from '@/ui/words'

import StandingMarks from './StandingMarks.vue'
import type { Standing } from './useForecast'

type Sums = Record<'for_students' | 'for_you', Partial<Record<Standing, number>>>

/** What was handed on before, by receiver where that is asked; two of them can be held side by side. */
const props = defineProps<{ course: number; handoffs: Schemas['HandOffRow'][]; loaded: boolean; fresh?: string }>()
const router = useRouter()
const only = ref('')
const two = ref<number[]>([])
const receivers = computed(() => {
  const found = new Map(props.handoffs.map((handoff) => [handoff.receiver ?? '', handoff.receiver_title ?? '']))
  return [...found].filter(([key]) => key)
})
const rows = computed(() => props.handoffs.filter((handoff) => !only.value || handoff.receiver === only.value))
/** What is there: at a receiver what was forecast, else what stands in the file. */
const sumsOf = (handoff: Schemas['HandOffRow']): Sums => handoff.forecast ?? handoff
/** What is not the same of what only the instructor sees, in words. */
function notSame(sums: Record<string, number | undefined>): string {
  // What is not taken is told once.
  const told = Object.entries(sums).filter(([verdict, count]) => !['same', 'refused'].includes(verdict) && count)
  return told.map(([verdict, count]) => `${count} ${verdict}`).join(', ')
}
function pick(id: number): void {
  two.value = two.value.includes(id) ? two.value.filter((one) => one !== id) : [...two.value, id].slice(-2)
}
function compare(): void {
  const [handoff, other] = two.value
  void router.push({ name: 'hand-offs-compared', params: { course: props.course, handoff, other } })
}
</script>

<template>
  <section class="history">
    <div class="row spread">
      <h2>Handed on before</h2>
      <div v-if="receivers.length" class="row tools">
        <label
          >to
          <select v-model="only" aria-label="Receiver">
            <option value="">any receiver, or as a file</option>
            <option v-for="[key, title] in receivers" :key="key" :value="key">{{ title }}</option>
          </select>
        </label>
        <ElButton :disabled="two.length !== 2" @click="compare">Compare two</ElButton>
      </div>
    </div>
    <p v-if="loaded && !handoffs.length" class="soft">Nothing yet.</p>
    <table v-else>
      <tbody>
        <tr v-for="handoff in rows" :key="handoff.id" :class="{ fresh: fresh && handoff.group === fresh }">
          <td class="pick">
            <input
              v-if="handoff.receiver"
              type="checkbox"
              :aria-label="`Compare ${handoff.title}`"
              :checked="two.includes(handoff.id)"
              @change="pick(handoff.id)"
            />
          </td>
          <td class="name">
            <RouterLink :to="{ name: 'ledger', params: { course, handoff: handoff.id } }">{{
              handoff.title
            }}</RouterLink>
            <span v-if="handoff.section" class="soft">, {{ handoff.section }}</span>
          </td>
          <td>
            <template v-if="handoff.receiver">
              {{ handoff.receiver_title }}<span class="soft">, {{ handoff.label }}</span>
            </template>
            <template v-else>{{ handoff.label }}</template>
            <span v-if="handoff.made_as" class="soft">, {{ handoff.made_as }}</span>
          </td>
          <td class="number">{{ items(handoff.items) }}</td>
          <td>
            <StandingMarks :sums="sumsOf(handoff).for_students" />
            <span v-if="notSame(sumsOf(handoff).for_you)" class="soft own-sum"
              >only you see: {{ notSame(sumsOf(handoff).for_you) }}</span
            >
            <span v-if="handoff.repaired" class="soft">{{ handoff.repaired }} changed for it</span>
          </td>
          <td class="soft">
            {{ handoff.as_forecast === true ? 'found as forecast' : '' }}
            <strong v-if="handoff.as_forecast === false" class="otherwise">found otherwise</strong>
          </td>
          <td class="faint number">{{ size(handoff.size) }}, {{ when(handoff.created) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.tools {
  gap: 14px;
}

table {
  width: 100%;
  margin-top: 8px;
}

td {
  padding: 8px 14px 8px 0;
  border-bottom: 1px solid var(--rog-rule);
}

.pick {
  width: 26px;
  padding-left: 4px;
}

td .verdict {
  margin-right: 14px;
}

.name {
  font: 16px var(--rog-serif);
}

.fresh {
  background: var(--rog-joined);
}

.fresh .faint {
  color: var(--rog-ink-soft);
}

.otherwise {
  color: var(--rog-signal);
}

input {
  accent-color: var(--rog-ink);
}
</style>

<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'

import { points as pointsWords } from '@/ui/words'

import { numberOf, type Wish } from './wishes'

/** Points by a ratio, or each distinct value by its own; `values` are those that the items have, the commonest first. */
const wish = defineModel<Wish | undefined>({ required: true })
const props = defineProps<{ values: (number | null)[] }>()
const was = ref('')
const becomes = ref('1')
const table = reactive<Record<string, string>>({})
const commonest = computed(() => props.values.find((value) => value !== null))
// Where no item has points there is no ratio.
const byTable = ref(commonest.value === undefined)
watch(commonest, (value) => (was.value = value === undefined ? '' : String(value)), { immediate: true })

watch(
  [byTable, was, becomes, table],
  () => {
    if (!byTable.value) {
      const [from, to] = [numberOf(was.value), numberOf(becomes.value)]
      wish.value =
        from && to !== undefined && from !== to ? { kind: 'points-ratio', was: from, becomes: to } : undefined
      return
    }
    const rows = props.values
      .filter((value) => (table[String(value)] ?? '').trim() !== '')
      .map((value): [number | null, number | null] => [value, numberOf(table[String(value)] ?? '') ?? null])
    wish.value = rows.length ? { kind: 'points-table', table: rows } : undefined
  },
  { immediate: true, deep: true },
)
</script>

<template>
  <div class="row ways">
    <label><input v-model="byTable" type="radio" :value="false" /> by ratio</label>
    <label><input v-model="byTable" type="radio" :value="true" /> value by value</label>
  </div>
  <p v-if="!byTable" class="row">
    What is <input v-model="was" aria-label="Points now" inputmode="decimal" /> becomes
    <input v-model="becomes" aria-label="Points then" inputmode="decimal" />, the rest in the same ratio
  </p>
  <table v-else>
    <tbody>
      <tr v-for="value in values" :key="String(value)">
        <td>{{ pointsWords(value) }}</td>
        <td>becomes</td>
        <td>
          <input v-model="table[String(value)]" :aria-label="`${pointsWords(value)} becomes`" inputmode="decimal" />
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
input:not([type]) {
  width: 76px;
}

td {
  padding: 2px 12px 2px 0;
}

.ways {
  gap: 20px;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { twinsQuery } from '@/api/queries'
import type { Schemas } from '@/api/client'
import { items as itemsWords } from '@/ui/words'

/** Items that stand twice, and tests in two languages: one is kept, or each goes into a pool of its own. */
const props = defineProps<{ course: number; reading: Schemas['ReadingOut']; busy: boolean }>()
const emit = defineEmits<{ leaveOut: [number[]]; apart: [number[], string] }>()
const { data: twins } = useQuery(computed(() => twinsQuery(props.course, props.reading.id)))
const text = (position: number) => props.reading.cells[position - 1]?.text ?? ''
const later = computed(() =>
  (twins.value?.doubled ?? []).filter((group) => group.same_key).flatMap((group) => group.positions.slice(1)),
)
const others = (language: string) =>
  (twins.value?.languages ?? []).filter((entry) => entry.language !== language).flatMap((entry) => entry.positions)
</script>

<template>
  <p v-if="!twins" class="faint">Looking…</p>
  <p v-else-if="!twins.doubled.length && !twins.languages.length" class="soft">
    No item stands twice, and all are in one language.
  </p>
  <template v-else>
    <template v-if="twins.languages.length">
      <p v-for="entry in twins.languages" :key="entry.language" class="row">
        <strong>{{ itemsWords(entry.positions.length) }} in {{ entry.language }}</strong>
        <ElButton size="small" :disabled="busy" @click="emit('leaveOut', others(entry.language))"
          >Keep {{ entry.language }} only</ElButton
        >
        <ElButton size="small" :disabled="busy" @click="emit('apart', entry.positions, entry.language)">
          Put {{ entry.language }} into a pool of its own
        </ElButton>
      </p>
    </template>
    <p v-if="later.length" class="row">
      <strong>{{ itemsWords(twins.doubled.length) }} twice</strong>
      <ElButton size="small" :disabled="busy" @click="emit('leaveOut', later)">Keep the first of each</ElButton>
      <ElButton size="small" :disabled="busy" @click="emit('apart', later, 'Doubles')"
        >Put the others into a pool of their own</ElButton
      >
    </p>
    <table v-if="twins.doubled.length">
      <tbody>
        <tr v-for="group in twins.doubled" :key="group.positions[0]">
          <td>{{ group.positions.join(' and ') }}</td>
          <td class="stem">{{ text(group.positions[0]!) }}</td>
          <td>{{ group.same_key ? 'same key' : 'the keys differ' }}</td>
          <td>
            <button
              v-for="position in group.positions"
              :key="position"
              type="button"
              class="link-button"
              :disabled="busy"
              @click="
                emit(
                  'leaveOut',
                  group.positions.filter((other) => other !== position),
                )
              "
            >
              keep {{ position }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </template>
</template>

<style scoped>
.stem {
  font-family: var(--rog-serif);
}

td {
  padding: 3px 14px 3px 0;
  vertical-align: baseline;
}

td button + button {
  margin-left: 10px;
}
</style>

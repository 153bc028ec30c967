<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { knownQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import { items } from '@/ui/words'

/** What of a reading the pools have already, the same or nearly: to be known before anything is taken. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; reading: number }>()
const { data, error } = useQuery(computed(() => ({ ...knownQuery(props.course, props.reading), enabled: open.value })))
const same = computed(() => data.value?.filter((entry) => entry.percent === 100).length ?? 0)
</script>

<template>
  <ElDialog v-model="open" title="In the pools already" width="680" append-to-body>
    <ErrorState v-if="error" :error="error" />
    <p v-else-if="!data" class="faint">Holding them against the pools…</p>
    <p v-else-if="!data.length">None of what waits here lies in the pools, nor anything that reads like it.</p>
    <template v-else>
      <p>
        {{ items(same) }} the same, which are not taken twice; {{ items(data.length - same) }} nearly the same, which
        are taken and can be merged then.
      </p>
      <table>
        <tbody>
          <tr v-for="entry in data" :key="entry.position">
            <td class="number faint">{{ entry.position }}</td>
            <td class="number">{{ entry.percent === 100 ? 'the same' : `${entry.percent} %` }}</td>
            <td>
              <RouterLink :to="{ name: 'item', params: { course, item: entry.item } }" class="text">{{
                entry.text || 'no stem'
              }}</RouterLink>
              <span class="soft"> in {{ entry.path.join(' / ') }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </ElDialog>
</template>

<style scoped>
td {
  padding: 4px 12px 4px 0;
  vertical-align: baseline;
  border-top: 1px solid var(--rog-rule);
}

.text {
  font-family: var(--rog-serif);
}

.number {
  white-space: nowrap;
}
</style>

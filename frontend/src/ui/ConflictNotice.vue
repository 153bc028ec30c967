<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

import type { Clash } from './useConflict'

const props = defineProps<{ clash: Clash; mine?: Record<string, unknown> }>()
const emit = defineEmits<{ keep: [] }>()
const home = ref<HTMLElement>()
// It comes after a save, which may have been far below it.
onMounted(() => home.value?.scrollIntoView?.({ block: 'nearest' }))

const words = (value: unknown): string =>
  value === null || value === undefined || value === '' ? 'nothing' : String(value).replaceAll('_', ' ')
function flat(value: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(value).flatMap(([name, part]) =>
      part && typeof part === 'object' && !Array.isArray(part) ? Object.entries(part) : [[name, part]],
    ),
  )
}
/** Where the two differ: what is there now, and what was to be saved. */
const rows = computed(() => {
  const [there, mine] = [flat(props.clash.current), flat(props.mine ?? {})]
  return Object.keys(mine)
    .filter((name) => name in there && words(there[name]) !== words(mine[name]))
    .map((name) => ({ name: name.replaceAll('_', ' '), there: words(there[name]), mine: words(mine[name]) }))
})
</script>

<template>
  <section ref="home" class="conflict" role="alert" aria-label="Changed in the meantime">
    <p><strong>This was changed in the meantime</strong>, in another tab or by an undo. Nothing was saved yet.</p>
    <table v-if="rows.length">
      <thead>
        <tr>
          <th></th>
          <th scope="col">There now</th>
          <th scope="col">Yours</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <th scope="row">{{ row.name }}</th>
          <td>{{ row.there }}</td>
          <td>{{ row.mine }}</td>
        </tr>
      </tbody>
    </table>
    <template v-if="$slots.there">
      <p class="soft">There now, and yours below it:</p>
      <slot name="there" />
    </template>
    <div class="row decide">
      <ElButton size="small" @click="clash.again()">Save mine over it</ElButton>
      <ElButton size="small" @click="emit('keep')">Keep what is there</ElButton>
    </div>
  </section>
</template>

<style scoped>
.conflict {
  margin: 10px 0;
  padding: 8px 14px 12px;
  border-left: 3px solid var(--rog-signal);
  background: var(--rog-sheet);
}

.conflict p {
  margin: 0 0 8px;
}

.decide {
  margin-top: 12px;
}

table {
  margin: 0 0 10px;
  border-collapse: collapse;
}

th,
td {
  padding: 2px 18px 2px 0;
  text-align: left;
  font-weight: 400;
}

thead th,
tbody th {
  color: var(--rog-ink-soft);
}
</style>

<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Every pool that a take makes or fills, with its count, before anything is done; and what its name goes without. */
defineProps<{ foreseen?: Schemas['ForeseenOut']; withSources?: boolean }>()
</script>

<template>
  <div class="take-pools" tabindex="0" role="group" aria-label="Pools">
    <table>
      <tbody>
        <tr v-for="entry in foreseen?.pools" :key="entry.path.join('/')">
          <td>{{ entry.path.join(' / ') }}</td>
          <td class="number">{{ entry.items || '' }}</td>
          <td class="of faint">{{ entry.items ? (entry.new ? 'new' : 'there already') : 'new, to hold others' }}</td>
          <td v-if="withSources" class="from faint">{{ entry.sources.join(', ') }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-for="note in foreseen?.notes" :key="note" class="caution">{{ note }}</p>
</template>

<style scoped>
td {
  padding: 2px 16px 2px 0;
  vertical-align: baseline;
}

.of {
  font-family: var(--rog-sans);
  white-space: nowrap;
}

.from {
  font-family: var(--rog-sans);
}

.caution {
  margin: 6px 0 0;
  color: var(--rog-caution);
}
</style>

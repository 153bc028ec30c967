<script setup lang="ts">
import { computed, ref } from 'vue'

import TypedField from '@/ui/TypedField.vue'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { takenFirst } from '@/ui/taking'
import { items } from '@/ui/words'

import { saidOfAll, sums, type Group } from './grouped'
import { useRepairAll } from './useRepairAll'

/** The line above what was dropped together: its name, its sums, and the taking of all of it as one. */
const props = defineProps<{ group: Group; course: number }>()
const { mayEdit } = useRole(useCourse())
const emit = defineEmits<{ take: []; name: [string] }>()
const naming = ref(false)
const told = computed(() => sums(props.group.sources))
const said = computed(() => saidOfAll(props.group.sources))
const repair = useRepairAll(() => props.course)
const inSources = (count: number) => (count === 1 ? 'of 1 source' : `of ${count} sources`)
function named(name: string): void {
  naming.value = false
  emit('name', name)
}
</script>

<template>
  <tr class="batch">
    <td />
    <td colspan="5">
      <TypedField
        v-if="naming"
        class="name-field"
        :model-value="group.batch?.name"
        aria-label="Name of the batch"
        @update:model-value="named"
        @keydown.enter.prevent="($event.target as HTMLInputElement).blur()"
        @keydown.escape="naming = false"
        @blur="naming = false"
      />
      <button
        v-else
        type="button"
        class="plain-button name"
        :disabled="!mayEdit"
        title="Name it"
        @click="naming = true"
      >
        {{ group.batch?.name }}
      </button>
      <span class="soft told">{{ group.sources.length }} sources dropped together, {{ items(told.items) }}</span>
    </td>
    <td colspan="2" class="next">
      <ElButton v-if="told.waiting && mayEdit" size="small" @click="emit('take')">
        Take {{ takenFirst(told).count }} of {{ group.sources.length }} sources
      </ElButton>
      <span v-else-if="!told.waiting" class="faint">{{ told.items ? 'all taken' : 'no questions found' }}</span>
    </td>
  </tr>
  <tr v-for="entry in said" :key="entry.finding.code" class="said">
    <td />
    <td colspan="7">
      <span class="warning"
        >{{ entry.finding.message
        }}{{ entry.sources.length > 1 ? ` The same in ${entry.sources.length - 1} more.` : '' }}</span
      >
      <ElButton
        v-for="way in mayEdit ? entry.finding.ways : []"
        :key="way.name"
        size="small"
        :loading="repair.isPending.value"
        @click="repair.mutate({ sources: entry.sources, code: entry.finding.code, repair: way.name })"
      >
        {{ way.label }} on all items {{ inSources(entry.sources.length) }}
      </ElButton>
    </td>
  </tr>
</template>

<style scoped>
td {
  padding: 14px 10px 5px 0;
  border-bottom: 1px solid var(--rog-rule-strong);
}

.name {
  font: 600 15px var(--rog-serif);
}

.told {
  margin-left: 12px;
}

.name-field {
  font: 600 15px var(--rog-serif);
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}

.said td {
  padding: 6px 10px;
  border-bottom: 1px solid var(--rog-rule);
  background: var(--rog-caution-ground);
}

.warning {
  margin-right: 12px;
}

.next {
  text-align: right;
  padding-right: 0;
}
</style>

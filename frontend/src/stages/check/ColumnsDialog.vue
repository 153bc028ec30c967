<script setup lang="ts">
import { computed, reactive, watch } from 'vue'

import type { Schemas } from '@/api/client'

import { WORDS } from '@/ui/words'

import { useReadAgain } from './useReadAgain'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; reading: Schemas['ReadingOut'] }>()
const again = useReadAgain(() => props.course)
const said = reactive<Record<string, string>>({})
const changed = computed(() => props.reading.columns.filter((column) => said[column.heading] !== column.meaning))
watch(
  () => props.reading.columns,
  (columns) => columns.forEach((column) => (said[column.heading] = column.meaning)),
  { immediate: true },
)

async function read(): Promise<void> {
  const columns = Object.fromEntries(changed.value.map((column) => [column.heading, said[column.heading] ?? '']))
  await again.mutateAsync({ reading: props.reading, options: { columns } })
  open.value = false
}
</script>

<template>
  <ElDialog v-model="open" title="What the columns are" width="760" append-to-body>
    <p class="soft">What you change here is remembered for sheets of this course that have the same headings.</p>
    <table>
      <thead>
        <tr>
          <th>Heading</th>
          <th>For example</th>
          <th>Taken for</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="column in reading.columns" :key="column.table + column.heading">
          <td>{{ column.heading }}</td>
          <td class="sample">{{ column.sample }}</td>
          <td>
            <select v-model="said[column.heading]" :aria-label="`What ${column.heading} is`">
              <option v-for="(label, meaning) in WORDS.columns" :key="meaning" :value="meaning">{{ label }}</option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
    <template #footer>
      <ElButton @click="open = false">Leave them</ElButton>
      <ElButton type="primary" :disabled="!changed.length" :loading="again.isPending.value" @click="read">
        Read again with {{ changed.length === 1 ? '1 change' : `${changed.length} changes` }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
table {
  width: 100%;
}

th {
  text-align: left;
}

td {
  padding: 5px 14px 5px 0;
  border-bottom: 1px solid var(--rog-rule);
}

.sample {
  max-width: 320px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-family: var(--rog-serif);
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { likeItemsQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'

import ItemLine from './ItemLine.vue'
import type { Line } from './useQuiz'

/** Items that could stand for one of the quiz, the most like first. */
const props = defineProps<{ item: Line; quiz: number; course: number }>()
const emit = defineEmits<{ close: []; pick: [number] }>()
const { data: found, error } = useQuery(computed(() => likeItemsQuery(props.course, props.quiz, props.item.id)))
function pick(by: number): void {
  emit('pick', by)
  emit('close')
}
</script>

<template>
  <ElDialog :model-value="true" title="Replace it by a like one" width="720" append-to-body @close="emit('close')">
    <p class="old"><span class="faint">Instead of</span> <ItemLine :item="item" :course="course" plain /></p>
    <ErrorState v-if="error" :error="error" />
    <p v-else-if="!found" class="faint">Looking for items like it…</p>
    <p v-else-if="!found.length" class="soft">Its pool has no other item that is not in the quiz already.</p>
    <ul v-else>
      <li v-for="other in found" :key="other.id">
        <button type="button" class="plain-button" @click="pick(other.id)">
          <ItemLine :item="other" :course="course" plain />
        </button>
      </li>
    </ul>
  </ElDialog>
</template>

<style scoped>
.old {
  padding: 0 8px 10px;
  border-bottom: 1px solid var(--rog-rule-strong);
}

ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  max-height: 56vh;
  overflow: auto;
}

.plain-button {
  width: 100%;
  padding: 6px 8px;
}

.plain-button:hover {
  background: var(--rog-joined);
}
</style>

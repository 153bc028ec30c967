<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { items as itemsWords } from '@/ui/words'

/** Items that ask for what cannot be given on a screen: left out, or reworded one by one. */
const props = defineProps<{ reading: Schemas['ReadingOut']; busy: boolean }>()
const emit = defineEmits<{ leaveOut: [number[]]; open: [number] }>()
const found = computed(() =>
  props.reading.cells.filter((cell) => !cell.taken && !cell.dropped && cell.advice.includes('for-paper')),
)
</script>

<template>
  <p v-if="!found.length" class="soft">Nothing asks for a drawing, a proof or paper.</p>
  <template v-else>
    <p class="row">
      <strong>{{ itemsWords(found.length) }} cannot be answered on a screen as they are</strong>
      <ElButton
        size="small"
        :disabled="busy"
        @click="
          emit(
            'leaveOut',
            found.map((cell) => cell.position),
          )
        "
        >Leave them out</ElButton
      >
    </p>
    <table>
      <tbody>
        <tr v-for="cell in found" :key="cell.position">
          <td>{{ cell.position }}</td>
          <td class="stem">{{ cell.text }}</td>
          <td><button type="button" class="link-button" @click="emit('open', cell.position)">Reword it</button></td>
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
</style>

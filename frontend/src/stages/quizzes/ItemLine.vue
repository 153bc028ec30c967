<script setup lang="ts">
import { computed } from 'vue'

import RichText from '@/ui/RichText.vue'
import { points, WORDS } from '@/ui/words'

import type { Line } from './useQuiz'

/** An item in one line, with signs for what a line cannot show. */
const props = defineProps<{ item: Line; course: number; plain?: boolean }>()
const signs = computed(() =>
  [
    { there: props.item.picture, sign: '▣', words: 'with a picture' },
    { there: props.item.table, sign: '▦', words: 'with a table' },
    { there: props.item.formula, sign: '∑', words: 'with a formula' },
    { there: props.item.passage, sign: '¶', words: 'with a passage' },
  ].filter(({ there }) => there),
)
</script>

<template>
  <span class="line">
    <span v-if="plain" class="text"
      ><RichText v-if="item.line" inline :content="item.line" /><template v-else>{{
        item.text || 'no stem'
      }}</template></span
    >
    <RouterLink v-else class="text" :to="{ name: 'item', params: { course, item: item.id } }"
      ><RichText v-if="item.line" inline :content="item.line" /><template v-else>{{
        item.text || 'no stem'
      }}</template></RouterLink
    >
    <span v-for="{ sign, words } in signs" :key="sign" class="sign" role="img" :aria-label="words" :title="words">{{
      sign
    }}</span>
    <span class="faint what"
      >{{ WORDS.types[item.type] ?? item.type }}{{ item.outcome ? `, ${item.outcome}` : ''
      }}{{ item.difficulty ? `, ${item.difficulty}` : '' }}, {{ points(item.points) }}</span
    >
  </span>
</template>

<style scoped>
.line {
  display: flex;
  gap: 8px;
  align-items: baseline;
  min-width: 0;
}

.text {
  font-family: var(--rog-serif);
  text-decoration: none;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  min-width: 8ch;
}

.text :deep(.rich) {
  font-size: inherit;
}

a.text:hover {
  text-decoration: underline;
}

.sign {
  color: var(--rog-aside);
}

.what {
  flex: none;
  font-size: 12.5px;
  margin-left: auto;
}
</style>

<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { onBeforeUnmount, ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'

import LevelMark from '../LevelMark.vue'

import type { AnyItem } from './types'

/** What the core says of an item while one types: checks first, then advice on its writing. */
const props = defineProps<{ item: AnyItem }>()
const emit = defineEmits<{ count: [number] }>()
const found = ref<Schemas['CheckedOut']>({ findings: [], advice: [] })
let turn = 0
let gone = false
onBeforeUnmount(() => (gone = true))

watchDebounced(
  () => props.item,
  async (item) => {
    if (gone) return
    const own = ++turn
    const checked = await ok(client.POST('/api/item-check', { body: { item } })).catch(() => undefined)
    if (!checked || own !== turn) return
    found.value = checked
    emit('count', checked.findings.length + checked.advice.length)
  },
  { debounce: 350, deep: true, immediate: true },
)
</script>

<template>
  <ul
    v-if="found.findings.length || found.advice.length"
    class="checked"
    aria-live="polite"
    aria-label="What is said of it as it is"
  >
    <li v-for="finding in [...found.findings, ...found.advice]" :key="finding.code + finding.message">
      <LevelMark :level="finding.level" /> {{ finding.message }}
    </li>
  </ul>
</template>

<style scoped>
.checked {
  list-style: none;
  margin: 8px 0 0;
  padding: 6px 10px;
  background: var(--rog-well);
  font-size: 13px;
}

li {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
}
</style>

<script setup lang="ts">
import { ref, watch } from 'vue'

import PoolNaming from './PoolNaming.vue'
import { useShortcuts } from './shortcuts'
import type { Taking } from './useTaking'

/** A dialog that takes items into pools: which items, the names of the pools, what else is made, and the one button. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  course: number
  title: string
  group: string
  taking: Taking
  words: string
  possible: boolean
  fresh: boolean
  busy: boolean
}>()
const emit = defineEmits<{ take: [] }>()
const { pattern, purpose, pool, duplicatesToo } = props.taking

/** What is said while its preview is still on the way is done when that is there: no key is lost. */
const wanted = ref(false)
watch([wanted, () => props.fresh], () => {
  if (!wanted.value || !props.fresh) return
  wanted.value = false
  if (props.possible) emit('take')
})
watch(open, () => (wanted.value = false))

useShortcuts([
  {
    keys: 'Ctrl+Enter',
    label: 'Take, in the dialog',
    group: props.group,
    run: () => (wanted.value = open.value),
    inFields: true,
  },
])
</script>

<template>
  <ElDialog v-model="open" :title="title" width="660" append-to-body>
    <fieldset class="take-part">
      <legend>Which items</legend>
      <slot name="which" />
    </fieldset>
    <PoolNaming v-if="open" v-model:pattern="pattern" v-model:purpose="purpose" v-model:pool="pool" :course="course">
      <slot name="pools" />
    </PoolNaming>
    <slot name="quizzes" />
    <label
      ><input v-model="duplicatesToo" type="checkbox" /> Take duplicates too, of items that are in the pools
      already</label
    >
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton type="primary" :disabled="!possible" :loading="busy || wanted" @click="wanted = true">{{
        words
      }}</ElButton>
    </template>
  </ElDialog>
</template>

<style>
.take-part {
  border: 0;
  margin: 0 0 16px;
  padding: 0;
  display: grid;
  gap: 5px;
}

.take-part legend {
  font-weight: 600;
  padding: 0;
  margin-bottom: 4px;
}

.take-part p {
  margin: 0;
}

.take-pools {
  margin: 6px 0 0;
  padding: 6px 0 6px 14px;
  border-left: 2px solid var(--rog-rule-strong);
  font-family: var(--rog-serif);
  max-height: 180px;
  overflow: auto;
}
</style>

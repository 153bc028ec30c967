<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { useShortcuts } from '@/ui/shortcuts'

/** Search in the source: `/` opens it, Enter goes on to the next line that has the words, Shift+Enter back. */
const props = defineProps<{ reading: number }>()
const emit = defineEmits<{ hit: [Schemas['HitOut']] }>()
const open = ref(false)
const words = ref('')
const slow = refDebounced(words, 200)
const at = ref(-1)
const field = ref<HTMLInputElement>()
const { data: hits } = useQuery(
  computed(() => ({
    queryKey: ['search', props.reading, slow.value],
    queryFn: () =>
      ok(
        client.GET('/api/readings/{reading_id}/search', {
          params: { path: { reading_id: props.reading }, query: { words: slow.value } },
        }),
      ),
    enabled: open.value && slow.value.trim().length > 1,
    placeholderData: keepPreviousData,
  })),
)
const found = computed(() => (slow.value.trim().length > 1 ? (hits.value ?? []) : []))

function go(step: number): void {
  if (!found.value.length) return
  at.value = (at.value + step + found.value.length) % found.value.length
  const hit = found.value[at.value]
  if (hit) emit('hit', hit)
}
async function show(): Promise<void> {
  open.value = true
  await nextTick()
  field.value?.select()
}
watch(slow, () => (at.value = -1))
useShortcuts([{ keys: '/', label: 'Search in the source', group: 'Check', run: () => void show() }])
</script>

<template>
  <span v-if="open" class="search" role="search">
    <input
      ref="field"
      v-model="words"
      aria-label="Words in the source"
      placeholder="words"
      @keydown.enter.exact.prevent="go(1)"
      @keydown.shift.enter.prevent="go(-1)"
      @keydown.escape.prevent.stop="open = false"
    />
    <span class="faint" aria-live="polite">{{
      found.length ? `${at + 1 || '–'} of ${found.length}` : slow ? 'none' : ''
    }}</span>
  </span>
  <button v-else type="button" class="link-button" @click="show">Search <kbd>/</kbd></button>
</template>

<style scoped>
.search {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  white-space: nowrap;
}

input {
  width: 150px;
  padding: 2px 7px;
  font: inherit;
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}
</style>

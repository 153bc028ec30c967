<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { say, sayProblem } from '@/ui/say'

/** A choice by chance of what is selected; its seed makes the same one again. It becomes the selection, and can go on from there. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ said: string; selection: Schemas['Selection']; course: number }>()
const emit = defineEmits<{ chosen: [ids: number[], then: '' | 'move' | 'quiz'] }>()
const count = ref('10')
const seed = ref('')
const spread = ref<Schemas['SubsetIn']['spread']>('')
const number = computed(() => Number(count.value))
const choose = useMutation<Schemas['SubsetOut'], Error, '' | 'move' | 'quiz'>({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/items/subset', {
        params: { path: { course_id: props.course } },
        body: {
          selection: props.selection,
          count: number.value,
          seed: seed.value.trim() === '' ? null : Number(seed.value),
          spread: spread.value,
        },
      }),
    ),
  onSuccess: (found, then) => {
    say(`${found.ids.length} of ${found.of} by chance, seed ${found.seed}.`)
    open.value = false
    emit('chosen', found.ids, then)
  },
  onError: sayProblem,
})
</script>

<template>
  <ElDialog v-model="open" :title="`A random choice of ${said}`" width="460" append-to-body>
    <form class="named-form" @submit.prevent="number >= 1 && choose.mutate('')">
      <label for="subset-count">How many</label>
      <ElInput id="subset-count" v-model="count" inputmode="numeric" />
      <label for="subset-spread">Spread evenly</label>
      <select id="subset-spread" v-model="spread">
        <option value="">no, by chance alone</option>
        <option value="outcome">over outcomes</option>
        <option value="type">over types</option>
        <option value="difficulty">over difficulties</option>
      </select>
      <label for="subset-seed">Seed</label>
      <ElInput id="subset-seed" v-model="seed" inputmode="numeric" placeholder="a new one" />
    </form>
    <template #footer>
      <ElButton :disabled="!(number >= 1)" @click="choose.mutate('move')">Into a pool…</ElButton>
      <ElButton :disabled="!(number >= 1)" @click="choose.mutate('quiz')">Into a quiz…</ElButton>
      <ElButton type="primary" :disabled="!(number >= 1)" :loading="choose.isPending.value" @click="choose.mutate('')"
        >Select {{ number || '' }}</ElButton
      >
    </template>
  </ElDialog>
</template>

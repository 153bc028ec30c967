<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { sayProblem } from '@/ui/say'
import PoolsToBe from '@/ui/PoolsToBe.vue'
import { intoPools, takenFirst } from '@/ui/taking'
import TakeFrame from '@/ui/TakeFrame.vue'
import { useTaking } from '@/ui/useTaking'
import { items } from '@/ui/words'

/** One take for several sources: one pattern for the names, every pool with its count before anything is done. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; sources: number[]; sound: number; waiting: number }>()
const emit = defineEmits<{ done: [] }>()
const router = useRouter()
const which = ref<'sound' | 'all'>('sound')
const taking = useTaking()
const quizzes = ref(false)
const body = computed(() => ({
  sources: props.sources,
  which: which.value,
  quizzes_too: quizzes.value,
  ...taking.said.value,
}))
const params = computed(() => ({ path: { course_id: props.course } }))
const { data: foreseen, isPlaceholderData: stale } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'foreseen', body.value],
    queryFn: () => ok(client.POST('/api/courses/{course_id}/take/preview', { params: params.value, body: body.value })),
    enabled: open.value,
    placeholderData: keepPreviousData,
  })),
)
const kinds = (count: number, noun: string) => `${count} ${noun}${count === 1 ? '' : 's'}`
const words = computed(() => {
  const made = foreseen.value
  if (!made) return 'Take them'
  const sound = which.value === 'sound' ? 'sound ' : ''
  return `Take ${made.items} ${sound}${made.items === 1 ? 'item' : 'items'} of ${kinds(made.sources, 'source')} into ${intoPools(made)}`
})
const take = useMutation({
  mutationFn: () => ok(client.POST('/api/courses/{course_id}/take', { params: params.value, body: body.value })),
  onSuccess: async () => {
    open.value = false
    emit('done')
    await router.push({ name: 'pools', params: { course: props.course } })
  },
  onError: sayProblem,
})
watch(open, (now) => now && (which.value = takenFirst(props).which))
</script>

<template>
  <TakeFrame
    v-model="open"
    title="Take several sources as one"
    group="Sources"
    :course="course"
    :taking="taking"
    :words="words"
    :possible="Boolean(foreseen?.items)"
    :fresh="Boolean(foreseen) && !stale"
    :busy="take.isPending.value"
    @take="take.mutate()"
  >
    <template #which>
      <label><input v-model="which" type="radio" value="sound" /> The sound ones, with no error or warning open</label>
      <label><input v-model="which" type="radio" value="all" /> All that wait</label>
      <p v-if="foreseen?.stays" class="signal">
        {{ items(foreseen.stays) }} {{ foreseen.stays === 1 ? 'stays' : 'stay' }} in Check.
      </p>
    </template>
    <template #pools>
      <PoolsToBe :foreseen="foreseen" with-sources />
    </template>
    <template #quizzes>
      <fieldset class="take-part">
        <label><input v-model="quizzes" type="checkbox" /> Make the quizzes of these sources too</label>
      </fieldset>
    </template>
  </TakeFrame>
</template>

<style scoped>
.signal {
  color: var(--rog-signal);
}
</style>

<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { sayProblem } from '@/ui/say'
import PoolsToBe from '@/ui/PoolsToBe.vue'
import { intoPools, takenFirst } from '@/ui/taking'
import TakeFrame from '@/ui/TakeFrame.vue'
import { useTaking } from '@/ui/useTaking'
import { items } from '@/ui/words'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  course: number
  reading: Schemas['ReadingOut']
  position: number
  waiting: number
  sound: number
}>()
const emit = defineEmits<{ done: [] }>()
const router = useRouter()
const which = ref<'all' | 'sound' | 'chosen'>('all')
const taking = useTaking()
const tests = ref<string[]>([])

const body = computed(() => ({
  which: which.value,
  positions: which.value === 'chosen' ? [props.position] : [],
  quizzes: tests.value,
  ...taking.said.value,
}))
const params = computed(() => ({ path: { reading_id: props.reading.id } }))
const { data: preview, isPlaceholderData: stale } = useQuery(
  computed(() => ({
    queryKey: ['course', props.course, 'names', props.reading.id, body.value],
    queryFn: () => ok(client.POST('/api/readings/{reading_id}/names', { params: params.value, body: body.value })),
    enabled: open.value,
    placeholderData: (before: Schemas['ForeseenOut'] | undefined) => before,
  })),
)
const count = computed(() => preview.value?.items ?? 0)
const take = useMutation({
  mutationFn: () => ok(client.POST('/api/readings/{reading_id}/take', { params: params.value, body: body.value })),
  onSuccess: async () => {
    open.value = false
    emit('done')
    await router.push({ name: tests.value.length ? 'quizzes' : 'pools', params: { course: props.course } })
  },
  onError: sayProblem,
})

/** What a test holds, in words. */
function contents(test: Schemas['TestOut']): string {
  const draws = test.draws === 1 ? '1 draw' : `${test.draws} draws`
  if (!test.draws) return items(test.items)
  return test.items ? `${items(test.items)} and ${draws}` : draws
}

watch(open, (now) => {
  if (now) tests.value = []
  if (now) which.value = takenFirst(props).which
})
const words = computed(() => `Take ${items(count.value)} into ${intoPools(preview.value)}`)
</script>

<template>
  <TakeFrame
    v-model="open"
    title="Take into pools"
    group="Check"
    :course="course"
    :taking="taking"
    :words="words"
    :possible="count > 0"
    :fresh="Boolean(preview) && !stale"
    :busy="take.isPending.value"
    @take="take.mutate()"
  >
    <template #which>
      <label><input v-model="which" type="radio" value="all" /> All {{ waiting }} that wait</label>
      <label
        ><input v-model="which" type="radio" value="sound" /> The {{ sound }} sound ones, with no error or warning
        open</label
      >
      <label><input v-model="which" type="radio" value="chosen" /> Item {{ position }} alone</label>
    </template>
    <template #pools>
      <PoolsToBe :foreseen="preview" />
    </template>
    <template #quizzes>
      <fieldset v-if="reading.quizzes.length" class="take-part">
        <legend>{{ reading.quizzes.length === 1 ? 'The quiz' : 'Quizzes' }} of this source</legend>
        <label v-for="test in reading.quizzes" :key="test.id"
          ><input v-model="tests" type="checkbox" :value="test.id" /> Make the quiz “{{ test.title || reading.title }}”
          too: {{ contents(test) }}</label
        >
        <p v-if="tests.length && which !== 'all'" class="faint">
          Items that are not taken now are left out of it; add them when they are.
        </p>
      </fieldset>
    </template>
  </TakeFrame>
</template>

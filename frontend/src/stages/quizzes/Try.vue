<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { quizQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import { sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'

import StudentItem from './StudentItem.vue'

type Answer = string | string[] | Record<string, string> | null

const course = useCourse()
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.quiz))
const seed = computed(() => (typeof route.query.seed === 'string' ? route.query.seed : null))
const { data: quiz } = useQuery(computed(() => quizQuery(course.value, id.value)))
const answers = reactive<Record<string, Answer>>({})
const result = ref<Schemas['ResultOut']>()
const params = computed(() => ({ path: { quiz_id: id.value } }))

const { data: attempt, error } = useQuery(
  computed(() => ({
    queryKey: ['try', id.value, seed.value],
    queryFn: () =>
      ok(client.POST('/api/quizzes/{quiz_id}/trial', { params: params.value, body: { seed: seed.value } })),
    staleTime: Infinity,
    gcTime: 0,
  })),
)
watch(attempt, (drawn) => {
  // The draw's seed goes into the address, so that a reload or a link shows the same draw.
  if (drawn && drawn.seed !== seed.value) void router.replace({ query: { seed: drawn.seed } })
})

const submit = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/quizzes/{quiz_id}/mark', {
        params: params.value,
        body: { seed: attempt.value?.seed ?? '', responses: { ...answers } },
      }),
    ),
  onSuccess: (marked) => {
    result.value = marked
    document.getElementById('main')?.scrollTo({ top: 0 })
  },
  onError: sayProblem,
})
const marked = computed(() => new Map(result.value?.items.map((entry) => [entry.id, entry])))
const answered = computed(
  () =>
    Object.values(answers).filter((value) => value !== null && value !== '' && (!Array.isArray(value) || value.length))
      .length,
)

function drawAgain(): void {
  Object.keys(answers).forEach((key) => (answers[key] = null))
  result.value = undefined
  void router.replace({ query: { seed: Math.random().toString(16).slice(2, 10) } })
}
useShortcuts([{ keys: 'D', label: 'Draw again', group: 'Trying a quiz', run: drawAgain }])
</script>

<template>
  <ErrorState v-if="error" :error="error">
    <RouterLink :to="{ name: 'quiz', params: { course, quiz: id } }">Back to the quiz</RouterLink>
  </ErrorState>
  <div v-else-if="attempt" class="paper">
    <header class="head">
      <div>
        <h1>{{ quiz?.title }}</h1>
        <p class="faint">
          As a student sees it. Draw {{ attempt.seed }}: the same draw gives the same items in the same order.
          <RouterLink :to="{ name: 'quiz', params: { course, quiz: id } }">Back to the quiz</RouterLink>
        </p>
      </div>
      <ElButton @click="drawAgain">Draw again <kbd>D</kbd></ElButton>
    </header>
    <section v-if="result" class="result" role="status">
      <strong>{{ result.earned }} of {{ result.points }} points</strong>
      <span v-if="result.by_hand"> · {{ result.by_hand }} points to be marked by hand</span>
      <span class="soft"> · students see {{ result.release === 'everything' ? 'all of this' : result.release }}</span>
    </section>
    <ol>
      <StudentItem
        v-for="(item, index) in attempt.items"
        :key="item.id"
        v-model="answers[item.id]"
        :item="item"
        :number="index + 1"
        :marked="marked.get(item.id)"
      />
    </ol>
    <footer class="row">
      <ElButton v-if="!result" type="primary" :loading="submit.isPending.value" @click="submit.mutate()">
        Submit {{ answered }} of {{ attempt.items.length }} answers
      </ElButton>
      <ElButton v-else @click="result = undefined">Change the answers</ElButton>
    </footer>
  </div>
  <p v-else class="faint paper">Drawing…</p>
</template>

<style scoped>
.paper {
  max-width: 780px;
  margin: 0 auto;
  padding: 24px 32px 60px;
}

.head {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  align-items: flex-start;
  padding-bottom: 12px;
  border-bottom: 2px solid var(--rog-ink);
}

.head p {
  margin: 4px 0 0;
}

.result {
  padding: 12px 14px;
  margin-top: 16px;
  background: var(--rog-sheet);
  border-left: 3px solid var(--rog-ink);
}

.result strong {
  font: 600 18px var(--rog-serif);
}

ol {
  list-style: none;
  padding: 0;
  margin: 0;
}

footer {
  margin-top: 24px;
}
</style>

<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { poolsQuery, quizQuery } from '@/api/queries'
import ConflictNotice from '@/ui/ConflictNotice.vue'
import ErrorState from '@/ui/ErrorState.vue'
import { sayProblem } from '@/ui/say'
import { useShortcuts } from '@/ui/shortcuts'
import { useConflict } from '@/ui/useConflict'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

import Figures from './Figures.vue'
import PartRow from './PartRow.vue'
import QuizSettings from './QuizSettings.vue'

const { mayEdit } = useRole(useCourse())

const course = useCourse()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const id = computed(() => Number(route.params.quiz))
const { data: quiz, error } = useQuery(computed(() => quizQuery(course.value, id.value)))
const { data: pools } = useQuery(computed(() => poolsQuery(course.value)))
const pool = ref<number>()
const pick = ref(3)
const each = ref<number | undefined>(1)
const params = computed(() => ({ path: { quiz_id: id.value } }))
const done = { onSuccess: () => queries.invalidateQueries({ queryKey: ['course', course.value] }), onError: sayProblem }

const conflict = useConflict()
/** What was to be saved when it was refused. */
const mine = ref<Record<string, unknown>>({})
async function saved(): Promise<void> {
  conflict.settle()
  await done.onSuccess()
}

const addDraw = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/quizzes/{quiz_id}/draws', {
        params: params.value,
        body: { pool: pool.value ?? 0, pick: pick.value, points_each: each.value ?? null },
      }),
    ),
  ...done,
})
const changePart = useMutation({
  mutationFn: ({ part, body }: { part: number; body: Schemas['PartChange'] }) =>
    ok(client.PATCH('/api/parts/{part_id}', { params: { path: { part_id: part } }, body })),
  onSuccess: saved,
  onError: (error, { part, body }) => {
    mine.value = { pick: body.pick, points_each: body.points_each }
    if (!conflict.caught(error, (version) => changePart.mutate({ part, body: { ...body, version } }))) sayProblem(error)
  },
})
const removePart = useMutation({
  mutationFn: (part: number) => ok(client.DELETE('/api/parts/{part_id}', { params: { path: { part_id: part } } })),
  ...done,
})
const change = useMutation({
  mutationFn: (body: Schemas['QuizChange']) =>
    ok(client.PATCH('/api/quizzes/{quiz_id}', { params: params.value, body })),
  onSuccess: saved,
  onError: (error, body) => {
    mine.value = { ...body.settings }
    if (!conflict.caught(error, (version) => change.mutate({ ...body, version }))) sayProblem(error)
  },
})
const remove = useMutation({
  mutationFn: () => ok(client.DELETE('/api/quizzes/{quiz_id}', { params: params.value })),
  onSuccess: async () => {
    await router.push({ name: 'quizzes', params: { course: course.value } })
    await done.onSuccess()
  },
  onError: sayProblem,
})
const tryIt = () => void router.push({ name: 'try', params: { course: course.value, quiz: id.value } })
useShortcuts([{ keys: 'y', label: 'Try the quiz as a student', group: 'Quizzes', run: tryIt }])
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!quiz" class="faint loading">Loading…</p>
  <div v-else class="quiz">
    <section class="parts">
      <header class="row spread">
        <h1>{{ quiz.title }}</h1>
        <div class="row">
          <RouterLink v-if="mayEdit" :to="{ name: 'hand-off', params: { course }, query: { quiz: quiz.id } }"
            >Hand it on</RouterLink
          >
          <button v-if="mayEdit" type="button" class="link-button" @click="remove.mutate()">Delete</button>
          <ElButton type="primary" :disabled="!quiz.figures.items" @click="tryIt"
            >Try it as a student <kbd>y</kbd></ElButton
          >
        </div>
      </header>
      <ConflictNotice v-if="conflict.clash.value" :clash="conflict.clash.value" :mine="mine" @keep="saved" />
      <h2>Parts</h2>
      <p v-if="!quiz.parts.length" class="soft">
        Nothing in it yet. Add a draw below, or select items in
        <RouterLink :to="{ name: 'pools', params: { course } }">Pools</RouterLink>
        and put them into this quiz.
      </p>
      <ol>
        <PartRow
          v-for="(part, index) in quiz.parts"
          :key="part.id"
          :part="part"
          :course="course"
          :first="index === 0"
          :last="index === quiz.parts.length - 1"
          @change="(body) => changePart.mutate({ part: part.id, body: { ...body, version: part.version } })"
          @move="(by) => changePart.mutate({ part: part.id, body: { position: index + by, set_points: false } })"
          @remove="removePart.mutate(part.id)"
        />
      </ol>
      <form v-if="mayEdit" class="row add" aria-label="Add a draw" @submit.prevent="pool && addDraw.mutate()">
        <span>Draw</span>
        <ElInputNumber v-model="pick" :min="1" :max="500" :controls="false" class="narrow" aria-label="How many" />
        <span>from</span>
        <ElSelect v-model="pool" filterable placeholder="a pool" class="pool" aria-label="Pool to draw from">
          <ElOption v-for="entry in pools" :key="entry.id" :value="entry.id" :label="entry.name" />
        </ElSelect>
        <ElInputNumber v-model="each" :min="0" :max="10000" :controls="false" class="narrow" aria-label="Points each" />
        <span>points each</span>
        <ElButton native-type="submit" :disabled="!pool">Add the draw</ElButton>
      </form>
    </section>
    <aside class="sums">
      <Figures :figures="quiz.figures" />
      <QuizSettings
        :settings="quiz.settings"
        @change="(settings) => change.mutate({ settings, version: quiz!.version })"
      />
    </aside>
  </div>
</template>

<style scoped>
.loading {
  padding: 24px;
}

.quiz {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  min-height: 100%;
}

.parts {
  padding: 18px 24px 40px;
}

.parts h2 {
  margin: 22px 0 6px;
}

ol {
  list-style: none;
  margin: 0;
  padding: 0;
}

.add {
  margin-top: 18px;
  padding-top: 14px;
  border-top: 1px solid var(--rog-rule-strong);
}

.narrow {
  width: 62px;
}

.pool {
  width: 230px;
}

.sums {
  padding: 18px 22px 40px;
  background: var(--rog-sheet);
  border-left: 1px solid var(--rog-rule);
}
</style>

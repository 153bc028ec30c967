<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { quizzesQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import { sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items, points } from '@/ui/words'
import { moment } from '@/ui/zoned'

import CarryDialog from './CarryDialog.vue'

/** The quizzes of a course: what each gives, when it is open, and whether something of it is worth a second look. */
const course = useCourse()
const { mayEdit, course: detail } = useRole(course)
const router = useRouter()
const queries = useQueryClient()
const { data: quizzes, error } = useQuery(computed(() => quizzesQuery(course.value)))
const title = ref('')
const chosen = reactive(new Set<number>())
const carrying = ref(false)
const carried = computed(() =>
  (quizzes.value ?? [])
    .filter(({ id }) => chosen.has(id))
    .map(({ id, title: name, opens }) => ({ id, title: name, settings: { opens } })),
)
const zone = computed(() => detail.value?.time_zone ?? 'UTC')
const create = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/quizzes', {
        params: { path: { course_id: course.value } },
        body: { title: title.value },
      }),
    ),
  onSuccess: async (quiz) => {
    await queries.invalidateQueries({ queryKey: ['course', course.value] })
    await router.push({ name: 'quiz', params: { course: course.value, quiz: quiz.id } })
  },
  onError: sayProblem,
})
function tick(id: number, on: boolean): void {
  if (on) chosen.add(id)
  else chosen.delete(id)
}
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <div v-else class="page">
    <header class="row spread">
      <h1>Quizzes</h1>
      <RouterLink v-if="detail" :to="{ name: 'course', params: { course }, hash: '#time' }" class="soft"
        >{{ detail.sections.length ? detail.sections.map(({ name }) => name).join(', ') : 'No sections' }} ·
        {{ zone }}</RouterLink
      >
    </header>
    <p v-if="quizzes && !quizzes.length" class="soft">
      No quiz yet. Name one; then add items, or draws that give each student some of a pool.
    </p>
    <table v-else>
      <tbody>
        <tr v-for="quiz in quizzes" :key="quiz.id">
          <td v-if="mayEdit" class="tick">
            <input
              type="checkbox"
              :checked="chosen.has(quiz.id)"
              :aria-label="`Choose ${quiz.title}`"
              @change="tick(quiz.id, ($event.target as HTMLInputElement).checked)"
            />
          </td>
          <td>
            <RouterLink class="name" :to="{ name: 'quiz', params: { course, quiz: quiz.id } }">{{
              quiz.title
            }}</RouterLink>
            <p class="soft">
              {{ quiz.heading }}
              <template v-if="quiz.opens">Opens {{ moment(quiz.opens, zone) }}.</template>
              <RouterLink
                v-if="quiz.doubts"
                class="doubts"
                :to="{ name: 'quiz-settings', params: { course, quiz: quiz.id } }"
                >{{ quiz.doubts }} worth a second look</RouterLink
              >
            </p>
          </td>
          <td class="soft number">{{ quiz.parts }} {{ quiz.parts === 1 ? 'part' : 'parts' }}</td>
          <td class="number">{{ items(quiz.items) }}</td>
          <td class="number">{{ quiz.points === null ? 'points differ' : points(quiz.points) }}</td>
          <td class="number">
            <RouterLink :to="{ name: 'try', params: { course, quiz: quiz.id } }">Try it</RouterLink>
          </td>
        </tr>
      </tbody>
    </table>
    <div v-if="chosen.size" class="row bar" role="region" aria-label="Chosen quizzes">
      <strong>{{ chosen.size }} {{ chosen.size === 1 ? 'quiz' : 'quizzes' }} chosen</strong>
      <ElButton @click="carrying = true">Carry {{ chosen.size === 1 ? 'it' : 'them' }} on…</ElButton>
      <button type="button" class="link-button" @click="chosen.clear()">Choose nothing</button>
    </div>
    <form v-if="mayEdit" class="row" @submit.prevent="title.trim() && create.mutate()">
      <ElInput v-model="title" class="title" aria-label="Title of a new quiz" placeholder="Title of a new quiz" />
      <ElButton native-type="submit" type="primary" :disabled="!title.trim()">Make the quiz</ElButton>
    </form>
    <CarryDialog v-model="carrying" :quizzes="carried" />
  </div>
</template>

<style scoped>
.page {
  padding: 24px;
  max-width: 1020px;
}

table {
  width: 100%;
  margin: 14px 0 24px;
}

td {
  padding: 10px 16px 10px 0;
  border-bottom: 1px solid var(--rog-rule);
  vertical-align: top;
  white-space: nowrap;
}

td:has(.name) {
  width: 100%;
  white-space: normal;
}

.name {
  font: 17px var(--rog-serif);
}

td p {
  margin: 2px 0 0;
}

.tick {
  padding-right: 10px;
}

.doubts {
  white-space: nowrap;
  margin-left: 8px;
  color: var(--rog-signal);
}

.bar {
  gap: 16px;
  padding: 10px 12px;
  margin-bottom: 18px;
  background: var(--rog-joined);
}

.title {
  width: 320px;
}
</style>

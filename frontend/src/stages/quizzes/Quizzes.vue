<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { quizzesQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'
import { sayProblem } from '@/ui/say'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { items, points } from '@/ui/words'

const course = useCourse()
const { mayEdit } = useRole(course)
const router = useRouter()
const queries = useQueryClient()
const { data: quizzes, error } = useQuery(computed(() => quizzesQuery(course.value)))
const title = ref('')
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
</script>

<template>
  <ErrorState v-if="error" :error="error" />
  <div v-else class="page">
    <h1>Quizzes</h1>
    <p v-if="quizzes && !quizzes.length" class="soft">
      No quiz yet. Name one; then add items, or draws that give each student some of a pool.
    </p>
    <table v-else>
      <tbody>
        <tr v-for="quiz in quizzes" :key="quiz.id">
          <td>
            <RouterLink :to="{ name: 'quiz', params: { course, quiz: quiz.id } }">{{ quiz.title }}</RouterLink>
          </td>
          <td class="soft">{{ quiz.parts }} {{ quiz.parts === 1 ? 'part' : 'parts' }}</td>
          <td class="number">{{ items(quiz.items) }}</td>
          <td class="number">{{ quiz.points === null ? 'points differ' : points(quiz.points) }}</td>
          <td class="number">
            <RouterLink :to="{ name: 'try', params: { course, quiz: quiz.id } }">Try it</RouterLink>
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="mayEdit" class="row" @submit.prevent="title.trim() && create.mutate()">
      <ElInput v-model="title" class="title" aria-label="Title of a new quiz" placeholder="Title of a new quiz" />
      <ElButton native-type="submit" type="primary" :disabled="!title.trim()">Make the quiz</ElButton>
    </form>
  </div>
</template>

<style scoped>
.page {
  padding: 24px;
  max-width: 860px;
}

table {
  width: 100%;
  margin: 14px 0 24px;
}

td {
  padding: 10px 12px 10px 0;
  border-bottom: 1px solid var(--rog-rule);
}

td:first-child {
  font: 17px var(--rog-serif);
}

.title {
  width: 320px;
}
</style>

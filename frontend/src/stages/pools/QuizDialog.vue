<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { quizzesQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'

/** What is selected goes into a quiz that is there, or into a new one. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ said: string; selection: Schemas['Selection']; course: number }>()
const router = useRouter()
const queries = useQueryClient()
const target = ref<number>()
const title = ref('')
const { data: quizzes } = useQuery(computed(() => ({ ...quizzesQuery(props.course), enabled: open.value })))
watch(open, () => {
  target.value = undefined
  title.value = ''
})
const put = useMutation({
  mutationFn: () =>
    title.value.trim()
      ? ok(
          client.POST('/api/courses/{course_id}/quizzes/of-items', {
            params: { path: { course_id: props.course } },
            body: { title: title.value, selection: props.selection },
          }),
        )
      : ok(
          client.POST('/api/quizzes/{quiz_id}/items', {
            params: { path: { quiz_id: target.value ?? 0 } },
            body: { items: [], selection: props.selection, title: '' },
          }),
        ),
  onSuccess: async (quiz) => {
    say(`Added to ${quiz.title}.`)
    open.value = false
    await queries.invalidateQueries({ queryKey: ['course', props.course] })
    await router.push({ name: 'quiz', params: { course: props.course, quiz: quiz.id } })
  },
  onError: sayProblem,
})
</script>

<template>
  <ElDialog v-model="open" :title="`Put ${said} into a quiz`" width="440" append-to-body>
    <form class="stacked-form" @submit.prevent="put.mutate()">
      <ElSelect v-model="target" filterable clearable placeholder="Quiz" aria-label="Quiz">
        <ElOption v-for="quiz in quizzes" :key="quiz.id" :value="quiz.id" :label="quiz.title" />
      </ElSelect>
      <ElInput v-model="title" aria-label="Title of a new quiz" placeholder="or a new quiz of this title" />
    </form>
    <template #footer
      ><ElButton
        type="primary"
        :disabled="!target && !title.trim()"
        :loading="put.isPending.value"
        @click="put.mutate()"
        >{{ title.trim() ? `Make the quiz of ${said}` : `Add ${said}` }}</ElButton
      ></template
    >
  </ElDialog>
</template>

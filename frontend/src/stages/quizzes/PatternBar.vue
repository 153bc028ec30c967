<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, ok } from '@/api/client'
import { patternsQuery } from '@/api/queries'
import { vFocus } from '@/ui/focus'
import ConfirmButton from '@/ui/ConfirmButton.vue'
import { say, sayProblem } from '@/ui/say'

import type { Quiz, QuizWork } from './useQuiz'

/** Patterns of the course: put on this quiz, or kept from it. */
const props = defineProps<{ quiz: Quiz; work: QuizWork; course: number }>()
const queries = useQueryClient()
const { data: patterns } = useQuery(computed(() => patternsQuery(props.course)))
const naming = ref(false)
const name = ref('')
const chosen = ref<number>()
const there = computed(() => patterns.value?.find(({ id }) => id === chosen.value))
const refresh = () => queries.invalidateQueries({ queryKey: ['course', props.course, 'patterns'] })

const keep = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/quizzes/{quiz_id}/patterns', {
        params: { path: { quiz_id: props.quiz.id } },
        body: { name: name.value.trim() },
      }),
    ),
  onSuccess: async (pattern) => {
    say(`Kept these settings as ${pattern.name}.`)
    naming.value = false
    name.value = ''
    await refresh()
  },
  onError: sayProblem,
})
const forget = useMutation({
  mutationFn: (id: number) =>
    ok(
      client.DELETE('/api/courses/{course_id}/patterns/{pattern_id}', {
        params: { path: { course_id: props.course, pattern_id: id } },
      }),
    ),
  onSuccess: async () => {
    chosen.value = undefined
    await refresh()
  },
  onError: sayProblem,
})
</script>

<template>
  <div class="row bar">
    <template v-if="patterns?.length">
      <select v-model="chosen" aria-label="Pattern of settings">
        <option :value="undefined">A pattern of the course…</option>
        <option v-for="pattern in patterns" :key="pattern.id" :value="pattern.id">{{ pattern.name }}</option>
      </select>
      <ElButton v-if="there" :loading="work.putPattern.isPending.value" @click="work.putPattern.mutate(there.id)"
        >Set this quiz as {{ there.name }}</ElButton
      >
      <ConfirmButton
        v-if="there"
        label="Delete preset"
        :ask="`Delete ${there.name}? This cannot be undone; quizzes keep their settings.`"
        verb="Delete permanently"
        @confirm="forget.mutate(there.id)"
      />
    </template>
    <form v-if="naming" class="row" @submit.prevent="name.trim() && keep.mutate()">
      <ElInput v-model="name" v-focus class="name" aria-label="Name of the pattern" placeholder="Name of the pattern" />
      <ElButton native-type="submit" :disabled="!name.trim()">Keep it</ElButton>
      <button type="button" class="link-button" @click="naming = false">Not now</button>
    </form>
    <button v-else type="button" class="link-button" @click="naming = true">Keep these settings as a pattern</button>
  </div>
</template>

<style scoped>
.bar {
  gap: 14px;
}

.name {
  width: 200px;
}
</style>

import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { quizQuery } from '@/api/queries'
import { sayProblem } from '@/ui/say'
import { useConflict } from '@/ui/useConflict'

export type Quiz = Schemas['QuizOut']
export type Part = Schemas['PartOut']
export type Line = Schemas['PartItemOut']
export type Settings = Quiz['settings']
export type Condition = Schemas['Condition']
export type Edit =
  | Schemas['MoveParts']
  | Schemas['MoveItems']
  | Schemas['TakeOut']
  | Schemas['Split']
  | Schemas['Replace']
  | Schemas['Worth']

/** A quiz and all that can be done to it; each change comes back as the quiz that it made. */
export function useQuiz(course: Ref<number>, id: Ref<number>) {
  const router = useRouter()
  const queries = useQueryClient()
  const { data: quiz, error } = useQuery(computed(() => quizQuery(course.value, id.value)))
  const params = computed(() => ({ path: { quiz_id: id.value } }))
  const conflict = useConflict()
  /** What was to be saved when it was refused. */
  const mine = ref<Record<string, unknown>>({})

  async function saved(now?: Quiz): Promise<void> {
    conflict.settle()
    if (now) queries.setQueryData(quizQuery(course.value, id.value).queryKey, now)
    await queries.invalidateQueries({ queryKey: ['course', course.value] })
  }
  const done = { onSuccess: (now: Quiz) => saved(now), onError: sayProblem }

  const edit = useMutation({
    mutationFn: (body: Edit) => ok(client.POST('/api/quizzes/{quiz_id}/edits', { params: params.value, body })),
    ...done,
  })
  const addDraw = useMutation({
    mutationFn: (body: Schemas['DrawIn']) =>
      ok(client.POST('/api/quizzes/{quiz_id}/draws', { params: params.value, body })),
    ...done,
  })
  const addItems = useMutation({
    mutationFn: (body: Schemas['ItemsIn']) =>
      ok(client.POST('/api/quizzes/{quiz_id}/items', { params: params.value, body })),
    ...done,
  })
  const share = useMutation({
    mutationFn: (body: Schemas['ShareIn']) =>
      ok(client.POST('/api/quizzes/{quiz_id}/points', { params: params.value, body })),
    ...done,
  })
  const again = useMutation({
    mutationFn: ({ part, item }: { part: number; item: number | null }) =>
      ok(client.POST('/api/parts/{part_id}/again', { params: { path: { part_id: part } }, body: { item } })),
    ...done,
  })
  const applyPlan = useMutation({
    mutationFn: (body: Schemas['PlanIn']) =>
      ok(client.POST('/api/quizzes/{quiz_id}/plan', { params: params.value, body })),
    ...done,
  })
  const putPattern = useMutation({
    mutationFn: (pattern: number) =>
      ok(
        client.POST('/api/quizzes/{quiz_id}/patterns/{pattern_id}', {
          params: { path: { quiz_id: id.value, pattern_id: pattern } },
        }),
      ),
    ...done,
  })
  const changePart = useMutation({
    mutationFn: ({ part, body }: { part: number; body: Schemas['PartChange'] }) =>
      ok(client.PATCH('/api/parts/{part_id}', { params: { path: { part_id: part } }, body })),
    onSuccess: (now) => saved(now),
    onError: (failed, { part, body }) => {
      mine.value = { ...body }
      if (!conflict.caught(failed, (version) => changePart.mutate({ part, body: { ...body, version } })))
        sayProblem(failed)
    },
  })
  const change = useMutation({
    mutationFn: (body: Schemas['QuizChange']) =>
      ok(client.PATCH('/api/quizzes/{quiz_id}', { params: params.value, body })),
    onSuccess: (now) => saved(now),
    onError: (failed, body) => {
      mine.value = { ...body.settings }
      if (!conflict.caught(failed, (version) => change.mutate({ ...body, version }))) sayProblem(failed)
    },
  })
  const remove = useMutation({
    mutationFn: () => ok(client.DELETE('/api/quizzes/{quiz_id}', { params: params.value })),
    onSuccess: async () => {
      await router.push({ name: 'quizzes', params: { course: course.value } })
      await queries.invalidateQueries({ queryKey: ['course', course.value] })
    },
    onError: sayProblem,
  })

  /** Saves some settings, all others as they are. */
  function set(settings: Partial<Settings>): void {
    if (quiz.value) change.mutate({ settings: { ...quiz.value.settings, ...settings }, version: quiz.value.version })
  }
  function setPart(part: Part, body: Schemas['PartChange']): void {
    changePart.mutate({ part: part.id, body: { ...body, version: part.version } })
  }

  return {
    quiz,
    error,
    conflict,
    mine,
    saved,
    edit,
    addDraw,
    addItems,
    share,
    again,
    applyPlan,
    putPattern,
    change,
    remove,
    set,
    setPart,
  }
}

export type QuizWork = ReturnType<typeof useQuiz>

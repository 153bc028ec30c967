import { useMutation } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'

import { client, ok, Problem, type Schemas } from '@/api/client'

export type Trial = Schemas['TrialOut']
export type Answer = Trial extends { sitting?: infer S | null }
  ? S extends { responses: Record<string, infer A> }
    ? A
    : never
  : never

/** A quiz tried as a student: the server holds the attempt, its clock and its answers; this asks and shows. */
export function useTrial(quiz: number) {
  const trial = ref<Trial>()
  const problem = ref<Problem>()
  const saving = ref(0)
  /** How far the clock of the trial is before that of this page, in milliseconds. */
  let ahead = 0
  const tick = ref(0)
  const params = { path: { quiz_id: quiz } }

  function took(now: Trial): void {
    ahead = Date.parse(now.now) - Date.now()
    trial.value = now
    problem.value = undefined
    tick.value = Date.now() + ahead
  }
  const caught = (error: unknown) =>
    (problem.value = error instanceof Problem ? error : new Problem(0, 'This page went wrong.', '', 'Load it again.'))

  const load = useMutation({
    mutationFn: (again: boolean) =>
      ok(client.GET('/api/quizzes/{quiz_id}/trial', { params: { ...params, query: { again } } })),
    onSuccess: took,
    onError: caught,
  })
  const setUp = useMutation({
    mutationFn: (body: Schemas['SetUpIn']) => ok(client.PUT('/api/quizzes/{quiz_id}/trial', { params, body })),
    onSuccess: took,
    onError: caught,
  })
  /** The code that opened it last, to draw again with. */
  let opened = ''
  const begin = useMutation({
    mutationFn: (code: string) => {
      opened = code
      return ok(client.POST('/api/quizzes/{quiz_id}/trial/begin', { params, body: { code, seed: null } }))
    },
    onSuccess: took,
    onError: caught,
  })
  /** The attempt that goes on, anew: its items are drawn once more. */
  async function drawAgain(): Promise<void> {
    const now = trial.value
    if (!now?.sitting) return
    await setUp.mutateAsync({
      section: now.section,
      student: now.student,
      clock: now.clock_set ? 'open' : 'now',
      anew: true,
    })
    await begin.mutateAsync(opened).catch(() => undefined)
  }
  const turn = useMutation({
    mutationFn: async (page: number) => {
      await settled()
      return ok(client.PUT('/api/quizzes/{quiz_id}/trial/page', { params, body: { page } }))
    },
    onSuccess: took,
    onError: caught,
  })
  const submit = useMutation({
    mutationFn: async () => {
      await settled()
      return ok(client.POST('/api/quizzes/{quiz_id}/trial/submit', { params }))
    },
    onSuccess: took,
    onError: caught,
  })

  // Answers are saved one after the other, so that the last one given is the one that stays.
  let waiting: Promise<unknown> = Promise.resolve()
  function answer(item: string, given: Answer): void {
    const sitting = trial.value?.sitting
    if (!sitting) return
    sitting.responses = { ...sitting.responses, [item]: given }
    saving.value += 1
    waiting = waiting
      .then(() =>
        ok(
          client.PUT('/api/quizzes/{quiz_id}/trial/responses', {
            params,
            body: { responses: { [item]: given } },
          }),
        ),
      )
      .then((now) => {
        // What was typed meanwhile stays as it is.
        if (saving.value > 1 && now.sitting && trial.value?.sitting)
          now.sitting.responses = { ...now.sitting.responses, ...trial.value.sitting.responses }
        took(now)
      })
      .catch((error: unknown) => {
        caught(error)
        load.mutate(false)
      })
      .finally(() => (saving.value -= 1))
  }
  const settled = () => waiting

  const left = computed(() => {
    const ends = trial.value?.sitting?.ends
    return ends ? Math.max(0, Math.ceil((Date.parse(ends) - tick.value) / 1000)) : undefined
  })
  useIntervalFn(() => {
    tick.value = Date.now() + ahead
    // When time is up the server has ended it.
    if (left.value === 0 && !load.isPending.value) load.mutate(false)
  }, 1000)

  return { trial, problem, saving, left, load, setUp, begin, drawAgain, turn, submit, answer }
}

/** “9:05”, or “1:09:05”. */
export function clock(seconds: number): string {
  const [hours, minutes, rest] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60]
  const two = (number: number) => String(number).padStart(2, '0')
  return hours ? `${hours}:${two(minutes)}:${two(rest)}` : `${minutes}:${two(rest)}`
}

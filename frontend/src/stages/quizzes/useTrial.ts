import { useMutation } from '@tanstack/vue-query'
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'

import { client, ok, Problem, type Schemas } from '@/api/client'

export type Trial = Schemas['TrialOut']
export type Answer = Trial extends { sitting?: infer S | null }
  ? S extends { responses: Record<string, infer A> }
    ? A
    : never
  : never
type SetUp = Partial<Schemas['SetUpIn']>

/** After how many seconds answers that could not be saved are sent again. */
const AGAIN = 5
/** What will be refused again: an answer to it is not sent once more. */
const isRefusal = (error: unknown) => error instanceof Problem && [400, 404, 409, 413, 422].includes(error.status)

/**
 * A quiz tried as a student: the server holds the attempt, its clock and its answers; this asks and shows.
 *
 * Everything goes to the server in turn. An answer stays here until it is there: a lost connection loses none.
 */
export function useTrial(quiz: number) {
  const stored = shallowRef<Trial>()
  const problem = ref<Problem>()
  /** Answers that were given and that the server does not have yet, by item. */
  const unsaved = shallowRef<Record<string, Answer>>({})
  const saving = computed(() => Object.keys(unsaved.value).length > 0)
  const trial = computed(() => {
    const now = stored.value
    if (!now?.sitting) return now
    return { ...now, sitting: { ...now.sitting, responses: { ...now.sitting.responses, ...unsaved.value } } }
  })
  /** How far the clock of the trial is before that of this page, in milliseconds. */
  let ahead = 0
  const tick = ref(0)
  const params = { path: { quiz_id: quiz } }

  function took(now: Trial): void {
    if (now.sitting?.started !== stored.value?.sitting?.started) unsaved.value = {}
    ahead = Date.parse(now.now) - Date.now()
    stored.value = now
    problem.value = undefined
    tick.value = Date.now() + ahead
  }
  const caught = (error: unknown) =>
    (problem.value = error instanceof Problem ? error : new Problem(0, 'This page went wrong.', '', 'Load it again.'))
  const inTurn = { scope: { id: 'trial' }, onSuccess: took, onError: caught }

  const load = useMutation({
    ...inTurn,
    mutationFn: (again: boolean) =>
      ok(client.GET('/api/quizzes/{quiz_id}/trial', { params: { ...params, query: { again } } })),
  })
  const setUp = useMutation({
    ...inTurn,
    mutationFn: (change: SetUp & Pick<Schemas['SetUpIn'], 'clock'>) => {
      const { section = '', student = '' } = stored.value ?? {}
      const body = { section, student, anew: false, ...change }
      return ok(client.PUT('/api/quizzes/{quiz_id}/trial', { params, body }))
    },
  })
  /** The code that opened it last, to draw again with. */
  let opened = ''
  const begin = useMutation({
    ...inTurn,
    mutationFn: (code: string) => {
      opened = code
      return ok(client.POST('/api/quizzes/{quiz_id}/trial/begin', { params, body: { code, seed: null } }))
    },
  })
  /** The attempt that goes on, anew: its items are drawn once more. */
  async function drawAgain(): Promise<void> {
    if (!stored.value?.sitting) return
    await setUp.mutateAsync({ clock: stored.value.clock_set ? 'open' : 'now', anew: true })
    await begin.mutateAsync(opened).catch(() => undefined)
  }

  async function deliver(): Promise<void> {
    const sent = unsaved.value
    if (!saving.value) return
    const now = await ok(client.PUT('/api/quizzes/{quiz_id}/trial/responses', { params, body: { responses: sent } }))
    // What was given meanwhile is sent next.
    const later = Object.entries(unsaved.value).filter(([item, given]) => given !== sent[item])
    took(now)
    unsaved.value = now.sitting ? Object.fromEntries(later) : {}
  }
  const save = useMutation({
    scope: inTurn.scope,
    mutationFn: deliver,
    onError: async (error) => {
      const why = caught(error)
      if (!isRefusal(error)) return
      unsaved.value = {}
      await load.mutateAsync(false).catch(() => undefined)
      problem.value = why
    },
  })
  const turn = useMutation({
    ...inTurn,
    mutationFn: async (page: number) => {
      await deliver()
      return ok(client.PUT('/api/quizzes/{quiz_id}/trial/page', { params, body: { page } }))
    },
  })
  const submit = useMutation({
    ...inTurn,
    mutationFn: async () => {
      await deliver()
      return ok(client.POST('/api/quizzes/{quiz_id}/trial/submit', { params }))
    },
  })

  function answer(item: string, given: Answer): void {
    if (!stored.value?.sitting) return
    unsaved.value = { ...unsaved.value, [item]: given }
    save.mutate()
  }

  const left = computed(() => {
    const ends = stored.value?.sitting?.ends
    return ends ? Math.max(0, Math.ceil((Date.parse(ends) - tick.value) / 1000)) : undefined
  })
  let seconds = 0
  useIntervalFn(() => {
    tick.value = Date.now() + ahead
    seconds += 1
    if (saving.value && problem.value && !save.isPending.value && seconds % AGAIN === 0) save.mutate()
    // When time is up the server has ended it.
    if (left.value === 0 && !load.isPending.value) load.mutate(false)
  }, 1000)
  useEventListener(window, 'beforeunload', (event) => saving.value && event.preventDefault())

  return { trial, problem, saving, left, load, setUp, begin, drawAgain, save, turn, submit, answer }
}

/** “9:05”, or “1:09:05”. */
export function clock(seconds: number): string {
  const [hours, minutes, rest] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60]
  const two = (number: number) => String(number).padStart(2, '0')
  return hours ? `${hours}:${two(minutes)}:${two(rest)}` : `${minutes}:${two(rest)}`
}

import { useMutation, useMutationState, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, Problem, type Schemas } from '@/api/client'
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

/** What is changed of a quiz; `over` is what it is saved over where that is not what this page has of it. */
interface Change {
  title?: string | undefined
  settings?: Partial<Settings> | undefined
  over?: Seen | undefined
}
interface Seen {
  version: string
  title?: string | undefined
  settings?: Settings | undefined
}
const isConflict = (error: unknown): error is Problem => error instanceof Problem && error.status === 412
// What nobody said is null in one, and not there in the other.
const said = (value: unknown) => JSON.stringify(value, (_, part: unknown) => part ?? undefined)
const isSame = (one: unknown, other: unknown) => said(one) === said(other)
/** Whether what is there now differs from what was seen in nothing that is to be changed: then there is nothing to ask. */
function isApart(there: Record<string, unknown>, { title, settings = {} }: Change, seen: Seen | undefined): boolean {
  const [now, before] = [there['settings'] ?? {}, seen?.settings ?? {}] as Record<string, unknown>[]
  const sameTitle = title === undefined || isSame(there['title'], seen?.title)
  return sameTitle && Object.keys(settings).every((name) => isSame(now?.[name], before?.[name]))
}
interface PartChange {
  part: number
  body: Schemas['PartChange']
  over?: string
}

/**
 * A quiz and all that can be done to it; each change comes back as the quiz that it made.
 *
 * Changes go to the server one after the other, each made from what the one before it left: who is quicker than the server does not
 * run into what they changed themselves, and who leaves meanwhile has saved it all the same. Settings show at once what waits to be saved.
 */
export function useQuiz(course: number, id: number) {
  const router = useRouter()
  const queries = useQueryClient()
  const query = quizQuery(course, id)
  const { data: stored, error } = useQuery(query)
  const now = () => queries.getQueryData(query.queryKey)
  const params = { path: { quiz_id: id } }
  const conflict = useConflict()
  /** What was to be saved when it was refused. */
  const mine = ref<Record<string, unknown>>({})
  let left = false
  onScopeDispose(() => (left = true))
  const changing = ['quiz', id, 'change']
  const waiting = useMutationState<Partial<Settings> | undefined>({
    filters: { mutationKey: changing, status: 'pending' },
    select: (mutation) => (mutation.state.variables as Change).settings,
  })
  const quiz = computed(
    () =>
      stored.value && {
        ...stored.value,
        settings: Object.assign({}, stored.value.settings, ...waiting.value) as Settings,
      },
  )

  async function saved(changed?: Quiz): Promise<void> {
    conflict.settle()
    if (changed) queries.setQueryData(query.queryKey, changed)
    const asked = queries.invalidateQueries({ queryKey: ['course', course] })
    // What was changed is here: nothing that waits to be saved waits for the rest.
    if (!changed) await asked
  }
  const inTurn = { scope: { id: 'quiz' } }
  const done = { ...inTurn, onSuccess: saved, onError: sayProblem }

  const edit = useMutation({
    mutationFn: (body: Edit) => ok(client.POST('/api/quizzes/{quiz_id}/edits', { params, body })),
    ...done,
  })
  const addDraw = useMutation({
    mutationFn: (body: Schemas['DrawIn']) => ok(client.POST('/api/quizzes/{quiz_id}/draws', { params, body })),
    ...done,
  })
  const addItems = useMutation({
    mutationFn: (body: Schemas['ItemsIn']) => ok(client.POST('/api/quizzes/{quiz_id}/items', { params, body })),
    ...done,
  })
  const share = useMutation({
    mutationFn: (body: Schemas['ShareIn']) => ok(client.POST('/api/quizzes/{quiz_id}/points', { params, body })),
    ...done,
  })
  const again = useMutation({
    mutationFn: ({ part, item }: { part: number; item: number | null }) =>
      ok(client.POST('/api/parts/{part_id}/again', { params: { path: { part_id: part } }, body: { item } })),
    ...done,
  })
  const applyPlan = useMutation({
    mutationFn: (body: Schemas['PlanIn']) => ok(client.POST('/api/quizzes/{quiz_id}/plan', { params, body })),
    ...done,
  })
  const putPattern = useMutation({
    mutationFn: (pattern: number) =>
      ok(
        client.POST('/api/quizzes/{quiz_id}/patterns/{pattern_id}', {
          params: { path: { quiz_id: id, pattern_id: pattern } },
        }),
      ),
    ...done,
  })
  const changePart = useMutation({
    ...inTurn,
    mutationFn: ({ part, body, over }: PartChange) => {
      const version = over ?? now()?.parts.find((entry) => entry.id === part)?.version ?? null
      return ok(
        client.PATCH('/api/parts/{part_id}', { params: { path: { part_id: part } }, body: { ...body, version } }),
      )
    },
    onSuccess: saved,
    onError: (failed, { part, body }) => {
      refused(failed, { ...body }, (over) => changePart.mutate({ part, body, over }))
    },
  })
  const change = useMutation({
    ...inTurn,
    mutationKey: changing,
    mutationFn: ({ title, settings, over = now() }: Change) => {
      const body: Schemas['QuizChange'] = { version: over?.version ?? null }
      if (title !== undefined) body.title = title
      if (settings) body.settings = { ...over?.settings, ...settings } as Settings
      return ok(client.PATCH('/api/quizzes/{quiz_id}', { params, body }))
    },
    onSuccess: saved,
    onError: (failed, { title, settings, over = now() }): void => {
      const there = isConflict(failed) && !conflict.clash.value ? failed : undefined
      if (there && isApart(there.current, { title, settings }, over)) {
        const current = { version: there.version, settings: there.current['settings'] as Settings }
        change.mutate({ title, settings, over: { ...current, title: over?.title } })
        return
      }
      // Two that waited are refused by the same change: they are saved over it together.
      const all: Change = { ...(conflict.clash.value && mine.value) }
      if (title !== undefined) all.title = title
      if (settings) all.settings = { ...all.settings, ...settings }
      refused(failed, { ...all }, (version, there) =>
        change.mutate({ ...all, over: { version, settings: there['settings'] as Settings } }),
      )
    },
  })
  /** Tells of a refusal: where something else was saved meanwhile, it is asked what is to stay. */
  function refused(
    failed: Error,
    wanted: Record<string, unknown>,
    again: (version: string, there: Record<string, unknown>) => void,
  ): void {
    if (!left && conflict.caught(failed, again)) mine.value = wanted
    else sayProblem(failed)
  }
  const remove = useMutation({
    ...inTurn,
    mutationFn: () => ok(client.DELETE('/api/quizzes/{quiz_id}', { params })),
    onSuccess: async () => {
      await router.push({ name: 'quizzes', params: { course } })
      await queries.invalidateQueries({ queryKey: ['course', course] })
    },
    onError: sayProblem,
  })

  /** Saves some settings, all others as they are. */
  const set = (settings: Partial<Settings>) => change.mutate({ settings })
  const setPart = (part: Part, body: Schemas['PartChange']) => changePart.mutate({ part: part.id, body })

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

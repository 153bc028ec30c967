import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { put } from '@/api/put'
import { lastOperationQuery, readingQuery } from '@/api/queries'
import { sayProblem } from '@/ui/say'

/** Proof by sample: drawn, looked at one by one, told with what it proves. The bound is the core's. */
export function useSample(
  course: Ref<number>,
  read: Ref<Schemas['ReadingOut'] | undefined>,
  position: Ref<number>,
  pick: (position: number) => void,
) {
  const queries = useQueryClient()
  const id = computed(() => read.value?.id ?? 0)
  const sample = computed(() => read.value?.sample ?? undefined)
  const drawn = computed(() => sample.value?.drawn.includes(position.value) ?? false)

  function keep(now: Schemas['SampleOut'] | null, of: number): void {
    put(queries, readingQuery(course.value, of).queryKey, (before) => before && { ...before, sample: now })
    void queries.invalidateQueries({ queryKey: lastOperationQuery().queryKey })
  }
  const inReading = { onMutate: () => id.value }
  const start = useMutation({
    ...inReading,
    mutationFn: (wanted: { count?: number; bound?: number }) =>
      ok(
        client.POST('/api/readings/{reading_id}/sample', { params: { path: { reading_id: id.value } }, body: wanted }),
      ),
    onSuccess: (now, _, of) => {
      keep(now, of)
      if (now.next && of === id.value) pick(now.next)
    },
    onError: sayProblem,
  })
  const judge = useMutation({
    ...inReading,
    mutationFn: ({ at, right }: { at: number; right: boolean }) =>
      ok(
        client.PUT('/api/readings/{reading_id}/sample/{position}', {
          params: { path: { reading_id: id.value, position: at } },
          body: { right },
        }),
      ),
    onSuccess: async (now, { at, right }, of) => {
      keep(now, of)
      // What was found wrong needs a look from now on, and is not forgotten.
      if (!right || read.value?.cells[at - 1]?.codes.includes('sample-wrong'))
        await queries.invalidateQueries({ queryKey: ['course', course.value] })
      if (now.next && of === id.value) pick(now.next)
    },
    onError: sayProblem,
  })
  const drop = useMutation({
    ...inReading,
    mutationFn: () =>
      ok(client.DELETE('/api/readings/{reading_id}/sample', { params: { path: { reading_id: id.value } } })),
    onSuccess: (_, __, of) => keep(null, of),
    onError: sayProblem,
  })
  const say = (right: boolean) => drawn.value && judge.mutate({ at: position.value, right })
  return { sample, drawn, start, say, drop }
}

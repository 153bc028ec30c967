import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { readingItemQuery, readingQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { useConflict } from '@/ui/useConflict'

type Item = Schemas['ReadingItemOut']['item']

/** One reading with its current item, and everything that can be done to them. */
export function useReading(course: Ref<number>, reading: Ref<number>, position: Ref<number>) {
  const queries = useQueryClient()
  const read = useQuery(computed(() => readingQuery(course.value, reading.value)))
  const item = useQuery(
    computed(() => ({ ...readingItemQuery(course.value, reading.value, position.value), enabled: position.value > 0 })),
  )
  const refresh = () => queries.invalidateQueries({ queryKey: ['course', course.value] })
  const conflict = useConflict()
  const path = computed(() => ({ path: { reading_id: reading.value } }))

  const edit = useMutation({
    mutationFn: ({ item: changed, version }: { item: Item; version: string }) =>
      ok(
        client.PUT('/api/readings/{reading_id}/items/{position}', {
          params: { path: { reading_id: reading.value, position: position.value } },
          body: { item: changed, version },
        }),
      ),
    onSuccess: async () => {
      conflict.settle()
      await refresh()
    },
    onError: (error, { item: changed }) => {
      if (!conflict.caught(error, (version) => edit.mutate({ item: changed, version }))) sayProblem(error)
    },
  })
  const repair = useMutation({
    mutationFn: (wanted: { code: string; repair: string; all: boolean }) =>
      ok(
        client.POST('/api/readings/{reading_id}/repair', {
          params: path.value,
          body: { code: wanted.code, repair: wanted.repair, positions: wanted.all ? null : [position.value] },
        }),
      ),
    onSuccess: async ({ count }) => {
      say(`Mended ${count === 1 ? '1 item' : `${count} items`}.`)
      await refresh()
    },
    onError: sayProblem,
  })
  const dismiss = useMutation({
    mutationFn: (wanted: { code: string; all: boolean }) =>
      ok(
        client.POST('/api/readings/{reading_id}/dismiss', {
          params: path.value,
          body: { code: wanted.code, positions: wanted.all ? null : [position.value] },
        }),
      ),
    onSuccess: refresh,
    onError: sayProblem,
  })
  const drop = useMutation({
    mutationFn: (dropped: boolean) =>
      ok(
        client.POST('/api/readings/{reading_id}/drop', {
          params: path.value,
          body: { positions: [position.value], dropped },
        }),
      ),
    onSuccess: refresh,
    onError: sayProblem,
  })
  return { read, item, conflict, edit, repair, dismiss, drop, refresh }
}

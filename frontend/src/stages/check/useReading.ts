import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { put } from '@/api/put'
import { lookQuery, lastOperationQuery, readingItemQuery, readingItemsQuery, readingQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'
import { useConflict } from '@/ui/useConflict'

type Item = Schemas['ReadingItemOut']['item']
export type Decision = Schemas['DecisionIn']['decision']
export type Passage = Schemas['PassageOut']

/** How many items a page of the proof asks for at once. */
export const PAGE = 50
export const pageOf = (position: number): number => Math.floor((position - 1) / PAGE) * PAGE + 1

/** One reading with its current item, and everything that can be done to them; `saved` is told of an item that was edited. */
export function useReading(course: Ref<number>, reading: Ref<number>, position: Ref<number>, saved: () => void) {
  const queries = useQueryClient()
  const read = useQuery(computed(() => readingQuery(course.value, reading.value)))
  const item = useQuery(
    computed(() => ({
      ...readingItemQuery(course.value, reading.value, position.value),
      enabled: position.value > 0,
      placeholderData: keepPreviousData,
    })),
  )
  const refresh = () => queries.invalidateQueries({ queryKey: ['course', course.value] })
  /** Where something is refused, another may have changed what is shown. */
  const refused = (error: unknown): void => {
    sayProblem(error)
    void refresh()
  }
  const conflict = useConflict()
  const path = computed(() => ({ path: { reading_id: reading.value } }))
  const itemPath = (at: number) => ({ path: { reading_id: reading.value, position: at } })

  /**
   * Shows a changed item at once, wherever it stands: alone, in the strip, in the proof, among what needs a look. It is of the reading
   * that it was changed in; another may be looked at by now.
   */
  function settle(changed: Schemas['ReadingItemOut'], of: number): void {
    const at = changed.position
    put(queries, readingItemQuery(course.value, of, at).queryKey, () => changed)
    put(queries, readingItemsQuery(course.value, of, pageOf(at), 0).queryKey, (page) =>
      page?.map((entry) => (entry.position === at ? changed : entry)),
    )
    put(
      queries,
      readingQuery(course.value, of).queryKey,
      (now) => now && { ...now, cells: now.cells.map((cell) => (cell.position === at ? changed.cell : cell)) },
    )
    put(queries, lookQuery(course.value).queryKey, (now) =>
      now?.map((entry) =>
        entry.reading === of ? { ...entry, positions: lookedAt(entry.positions, changed.cell) } : entry,
      ),
    )
    void queries.invalidateQueries({ queryKey: lastOperationQuery().queryKey })
    void queries.invalidateQueries({ queryKey: ['course', course.value, 'summary'] })
    void queries.invalidateQueries({ queryKey: ['course', course.value, 'sources'], refetchType: 'none' })
  }

  const inReading = { onMutate: () => reading.value }
  const edit = useMutation({
    ...inReading,
    mutationFn: async (wanted: { item: Item; version: string; passage?: Passage | undefined }) => {
      const params = itemPath(position.value)
      if (wanted.passage) {
        const { id, content } = wanted.passage
        const passage = { path: { reading_id: params.path.reading_id, key: id } }
        await ok(client.PUT('/api/readings/{reading_id}/passages/{key}', { params: passage, body: { content } }))
      }
      const body = { item: wanted.item, version: wanted.version }
      return ok(client.PUT('/api/readings/{reading_id}/items/{position}', { params, body }))
    },
    onSuccess: async (changed, { passage }, of) => {
      conflict.settle()
      settle(changed, of)
      saved()
      if (passage) await refresh()
    },
    onError: (error, { item: changed }) => {
      if (!conflict.caught(error, (version) => edit.mutate({ item: changed, version }))) refused(error)
    },
  })
  const decide = useMutation({
    ...inReading,
    mutationFn: ({ at, decision }: { at: number; decision: Decision }) =>
      ok(
        client.POST('/api/readings/{reading_id}/items/{position}/decide', {
          params: itemPath(at),
          body: { decision },
        }),
      ),
    onSuccess: (changed, _, of) => settle(changed, of),
    onError: refused,
  })
  const repair = useMutation({
    mutationFn: (wanted: { code: string; repair: string; all: boolean }) =>
      ok(
        client.POST('/api/readings/{reading_id}/repair', {
          params: path.value,
          body: { code: wanted.code, repair: wanted.repair, positions: wanted.all ? null : [position.value] },
        }),
      ),
    onSuccess: async ({ count, job }) => {
      if (!job) say(`Mended ${count === 1 ? '1 item' : `${count} items`}.`)
      await refresh()
    },
    onError: refused,
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
    onError: refused,
  })
  const drop = useMutation({
    mutationFn: ({ positions, dropped }: { positions: number[]; dropped: boolean }) =>
      ok(client.POST('/api/readings/{reading_id}/drop', { params: path.value, body: { positions, dropped } })),
    onSuccess: refresh,
    onError: refused,
  })
  return { read, item, conflict, edit, decide, repair, dismiss, drop, refresh }
}

/** The positions that need a look, with what is now said of one of them. */
function lookedAt(positions: number[], cell: Schemas['StripCell']): number[] {
  const others = positions.filter((entry) => entry !== cell.position)
  return cell.needs_look ? [...others, cell.position].sort((a, b) => a - b) : others
}

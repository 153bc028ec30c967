import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch, type Ref } from 'vue'

import { lookQuery, partsQuery, readingItemQuery, sourcesQuery } from '@/api/queries'

import { nextPlace, placeAmong, withOwn, type Cell, type Place } from './stepping'

/** What needs a look over all sources: the next of it, the place among all, and what may be shown next fetched before it is asked for. */
export function useLook(
  course: Ref<number>,
  at: Ref<Place>,
  cells: Ref<readonly Cell[] | undefined>,
  hasParts: Ref<boolean>,
  goOn: (place: Place) => void,
) {
  const queries = useQueryClient()
  const { data: all } = useQuery(computed(() => lookQuery(course.value)))
  const { data: sources } = useQuery(computed(() => sourcesQuery(course.value)))
  const order = computed(() => (sources.value ?? []).map((source) => source.reading ?? 0).reverse())
  // Not made anew at each step within a reading.
  const reading = computed(() => at.value.reading)
  const look = computed(() => withOwn(all.value ?? [], reading.value, cells.value ?? [], order.value))
  /** Whether it is known where to go: until then a step waits. */
  const known = computed(() => Boolean(all.value && sources.value && cells.value))
  const next = (direction: 1 | -1) => nextPlace(look.value, at.value, direction, order.value)
  const wanted = ref<1 | -1>()
  const step = (direction: 1 | -1) => (wanted.value = direction)
  watch(
    [wanted, known],
    () => {
      if (!wanted.value || !known.value) return
      const place = next(wanted.value)
      wanted.value = undefined
      if (place) goOn(place)
    },
    { flush: 'sync' },
  )
  const among = computed(() => placeAmong(look.value, at.value))
  const elsewhere = computed(() =>
    look.value
      .filter((entry) => entry.reading !== at.value.reading)
      .reduce((sum, entry) => sum + entry.positions.length, 0),
  )

  watch(
    [at, look],
    () => {
      const { reading, position } = at.value
      const near = [position + 1, position - 1].filter((entry) => entry >= 1 && entry <= (cells.value?.length ?? 0))
      const places = near.map((entry) => ({ reading, position: entry }))
      const flagged = next(1)
      for (const place of flagged ? [flagged, ...places] : places) {
        void queries.prefetchQuery({
          ...readingItemQuery(course.value, place.reading, place.position),
          staleTime: 10_000,
        })
        if (hasParts.value && place.reading === reading)
          void queries.prefetchQuery(partsQuery(course.value, reading, place.position))
      }
    },
    { immediate: true },
  )
  return { step, among, elsewhere }
}

import { queryOptions } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { client, ok, type Schemas } from './client'

type Id = MaybeRefOrGetter<number>

/** Key and fetcher of each piece of server state, in one place. */
export const sessionQuery = () =>
  queryOptions({ queryKey: ['session'], queryFn: () => ok(client.GET('/api/session')), staleTime: Infinity })

/** The lists that the core knows, in words: they change with the program alone. */
export const wordsQuery = () =>
  queryOptions({ queryKey: ['words'], queryFn: () => ok(client.GET('/api/words')), staleTime: Infinity })

export const coursesQuery = () => queryOptions({ queryKey: ['courses'], queryFn: () => ok(client.GET('/api/courses')) })

const inCourse = (course: Id) => ({ params: { path: { course_id: toValue(course) } } })

export const courseQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'summary'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}', inCourse(course))),
  })

export const isUnderWay = ({ state }: Pick<Schemas['JobOut'], 'state'>): boolean =>
  state === 'waiting' || state === 'running'

export const jobsQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'jobs'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/jobs', inCourse(course))),
    refetchInterval: (query) => (query.state.data?.some(isUnderWay) ? 350 : 15_000),
  })

/** The jobs of one's own that belong to no course: they make one. */
export const ownJobsQuery = () =>
  queryOptions({
    queryKey: ['own-jobs'],
    queryFn: () => ok(client.GET('/api/jobs')),
    refetchInterval: (query) => (query.state.data?.some(isUnderWay) ? 500 : false),
  })

/** Whether jobs are worked off at all; asked seldom, and soon again while none are. */
export const workerQuery = () =>
  queryOptions({
    queryKey: ['worker'],
    queryFn: () => ok(client.GET('/api/worker')),
    refetchInterval: (query) => (query.state.data?.running === false ? 2_000 : 10_000),
  })

/** What one did last, in whatever course, and did not undo. */
export const lastOperationQuery = () =>
  queryOptions({
    queryKey: ['course', 'last-operation'],
    queryFn: () => ok(client.GET('/api/operations/last')),
  })

export const sourcesQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'sources'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/sources', inCourse(course))),
  })

export const readingQuery = (course: Id, reading: Id) =>
  queryOptions({
    queryKey: ['course', course, 'reading', reading],
    queryFn: () => ok(client.GET('/api/readings/{reading_id}', { params: { path: { reading_id: toValue(reading) } } })),
    // A reading has a cell for each of its items: what makes each of them reactive, or compares them all, is felt at every step.
    shallow: true,
    structuralSharing: false,
  })

export const readingItemQuery = (course: Id, reading: Id, position: Id) =>
  queryOptions({
    queryKey: ['course', course, 'reading', reading, 'item', position],
    queryFn: () =>
      ok(
        client.GET('/api/readings/{reading_id}/items/{position}', {
          params: { path: { reading_id: toValue(reading), position: toValue(position) } },
        }),
      ),
  })

export const readingItemsQuery = (course: Id, reading: Id, first: Id, last: Id) =>
  queryOptions({
    queryKey: ['course', course, 'reading', reading, 'items', first],
    queryFn: () =>
      ok(
        client.GET('/api/readings/{reading_id}/items', {
          params: { path: { reading_id: toValue(reading) }, query: { first: toValue(first), last: toValue(last) } },
        }),
      ),
  })

/** An item's source as its parts; what was read does not change, so it is asked for once. */
export const partsQuery = (course: Id, reading: Id, position: Id) =>
  queryOptions({
    queryKey: ['course', course, 'reading', reading, 'parts', position],
    queryFn: () =>
      ok(
        client.GET('/api/readings/{reading_id}/items/{position}/parts', {
          params: { path: { reading_id: toValue(reading), position: toValue(position) } },
        }),
      ),
    staleTime: Infinity,
  })

/** What needs a look in all sources of the course. */
export const lookQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'look'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/look', inCourse(course))),
  })

export const twinsQuery = (course: Id, reading: Id) =>
  queryOptions({
    queryKey: ['course', course, 'reading', reading, 'twins'],
    queryFn: () =>
      ok(client.GET('/api/readings/{reading_id}/twins', { params: { path: { reading_id: toValue(reading) } } })),
  })

export const comparisonQuery = (course: Id, comparison: Id) =>
  queryOptions({
    queryKey: ['course', course, 'comparison', comparison],
    queryFn: () =>
      ok(
        client.GET('/api/comparisons/{comparison_id}', {
          params: { path: { comparison_id: toValue(comparison) } },
        }),
      ),
  })

export const linesQuery = (course: Id, reading: Id, chunk: Id) =>
  queryOptions({
    queryKey: ['course', course, 'reading', reading, 'lines', chunk],
    queryFn: () =>
      ok(
        client.GET('/api/readings/{reading_id}/lines', {
          params: { path: { reading_id: toValue(reading) }, query: { chunk: toValue(chunk) } },
        }),
      ),
    staleTime: Infinity,
  })

export const poolsQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'pools'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/pools', inCourse(course))),
  })

/** What items a list wants; what is not set does not count. */
export type ItemFilter = Partial<Schemas['ItemFilter']>
export interface ItemOrder {
  sort: 'position' | 'text' | 'type' | 'points' | 'difficulty' | 'updated'
  descending: boolean
}

/** A filter as an address has it: what is empty is left out. */
export function asked(filter: ItemFilter): ItemFilter {
  const set = Object.entries(filter).filter(([, value]) => value !== '' && value !== undefined && value !== null)
  return Object.fromEntries(set) as ItemFilter
}

const USUAL: ItemOrder = { sort: 'position', descending: false }

export const itemPageQuery = (
  course: Id,
  filter: MaybeRefOrGetter<ItemFilter>,
  offset: Id,
  order: MaybeRefOrGetter<ItemOrder> = USUAL,
) =>
  queryOptions({
    queryKey: ['course', course, 'items', filter, order, offset],
    queryFn: () =>
      ok(
        client.GET('/api/courses/{course_id}/items', {
          params: {
            path: { course_id: toValue(course) },
            query: { ...asked(toValue(filter)), ...toValue(order), offset: toValue(offset) },
          },
        }),
      ),
  })

/** How many items each value of each condition of a filter leaves. */
export const countsQuery = (course: Id, filter: MaybeRefOrGetter<ItemFilter>) =>
  queryOptions({
    queryKey: ['course', course, 'counts', filter],
    queryFn: async () =>
      (
        await ok(
          client.GET('/api/courses/{course_id}/items/counts', {
            params: { path: { course_id: toValue(course) }, query: asked(toValue(filter)) },
          }),
        )
      ).counts,
  })

export const keptFiltersQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'filters'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/filters', inCourse(course))),
  })

export const peopleQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'people'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/people', inCourse(course))),
  })

export const deletedQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'deleted'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/deleted', inCourse(course))),
  })

export const deletedCoursesQuery = () =>
  queryOptions({ queryKey: ['deleted-courses'], queryFn: () => ok(client.GET('/api/deleted-courses')) })

/** What one was offered and what one offered: it changes by what others do, so it is asked for now and then. */
export const offersQuery = () =>
  queryOptions({ queryKey: ['offers'], queryFn: () => ok(client.GET('/api/offers')), refetchInterval: 30_000 })

export const offerLedgerQuery = (offer: Id) =>
  queryOptions({
    queryKey: ['offers', offer, 'ledger'],
    queryFn: () => ok(client.GET('/api/offers/{offer_id}/ledger', { params: { path: { offer_id: toValue(offer) } } })),
  })

/** The near-duplicates that were found; asked for again while they are being looked for. */
export const pairsQuery = (all: MaybeRefOrGetter<boolean>, limit: Id, of: { course?: number; pool?: number } = {}) =>
  queryOptions({
    queryKey: ['course', 'alike', all, limit, of],
    queryFn: () =>
      ok(client.GET('/api/alike', { params: { query: { all: toValue(all), limit: toValue(limit), ...of } } })),
    refetchInterval: (query) => (query.state.data?.running ? 600 : false),
  })

export const pairQuery = (pair: Id) =>
  queryOptions({
    queryKey: ['course', 'alike', 'pair', pair],
    queryFn: () => ok(client.GET('/api/alike/{pair_id}', { params: { path: { pair_id: toValue(pair) } } })),
  })

export const itemPageOfQuery = (course: Id, item: Id) =>
  queryOptions({
    queryKey: ['course', course, 'item', item, 'page'],
    queryFn: () => ok(client.GET('/api/items/{item_id}/page', { params: { path: { item_id: toValue(item) } } })),
  })

export const knownQuery = (course: Id, reading: Id) =>
  queryOptions({
    queryKey: ['course', course, 'reading', reading, 'known'],
    queryFn: () =>
      ok(client.GET('/api/readings/{reading_id}/known', { params: { path: { reading_id: toValue(reading) } } })),
  })

export const itemQuery = (course: Id, item: Id) =>
  queryOptions({
    queryKey: ['course', course, 'item', item],
    queryFn: () => ok(client.GET('/api/items/{item_id}', { params: { path: { item_id: toValue(item) } } })),
  })

export const quizzesQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'quizzes'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/quizzes', inCourse(course))),
  })

export const quizQuery = (course: Id, quiz: Id) =>
  queryOptions({
    queryKey: ['course', course, 'quiz', quiz],
    queryFn: () => ok(client.GET('/api/quizzes/{quiz_id}', { params: { path: { quiz_id: toValue(quiz) } } })),
  })

/** What a quiz adds up to, for a class of so many; what a format has no place for, where one is named. */
export const sumsQuery = (course: Id, quiz: Id, students: Id, format: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['course', course, 'quiz', quiz, 'sums', students, format],
    queryFn: () =>
      ok(
        client.GET('/api/quizzes/{quiz_id}/sums', {
          params: {
            path: { quiz_id: toValue(quiz) },
            query: { students: toValue(students), format: toValue(format) },
          },
        }),
      ),
  })

/** Items that could stand for one of a quiz, the most like first. */
export const likeItemsQuery = (course: Id, quiz: Id, item: Id) =>
  queryOptions({
    queryKey: ['course', course, 'quiz', quiz, 'alike', item],
    queryFn: () =>
      ok(
        client.GET('/api/quizzes/{quiz_id}/items/{item_id}/alike', {
          params: { path: { quiz_id: toValue(quiz), item_id: toValue(item) } },
        }),
      ),
  })

export const patternsQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'patterns'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/patterns', inCourse(course))),
  })

export const zonesQuery = () =>
  queryOptions({ queryKey: ['zones'], queryFn: () => ok(client.GET('/api/time-zones')), staleTime: Infinity })

export const formatsQuery = () =>
  queryOptions({ queryKey: ['formats'], queryFn: () => ok(client.GET('/api/formats')), staleTime: Infinity })

export const handoffsQuery = (course: Id) =>
  queryOptions({
    queryKey: ['course', course, 'handoffs'],
    queryFn: () => ok(client.GET('/api/courses/{course_id}/handoffs', inCourse(course))),
  })

export const handoffQuery = (course: Id, handoff: Id) =>
  queryOptions({
    queryKey: ['course', course, 'handoff', handoff],
    queryFn: () => ok(client.GET('/api/handoffs/{handoff_id}', { params: { path: { handoff_id: toValue(handoff) } } })),
  })

export const receiversQuery = () =>
  queryOptions({ queryKey: ['receivers'], queryFn: () => ok(client.GET('/api/receivers')) })

export const pairOfHandoffsQuery = (course: Id, a: Id, b: Id) =>
  queryOptions({
    queryKey: ['course', course, 'handoffs', a, b],
    queryFn: () =>
      ok(
        client.GET('/api/handoffs/{handoff_id}/against/{other_id}', {
          params: { path: { handoff_id: toValue(a), other_id: toValue(b) } },
        }),
      ),
  })

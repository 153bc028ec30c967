import { computed, type Ref } from 'vue'
import { useRoute, useRouter, type LocationQuery } from 'vue-router'

import type { ItemFilter, ItemOrder } from '@/api/queries'
import { WORDS } from '@/ui/words'

type Name = Exclude<keyof ItemFilter, 'pool' | 'with_subpools' | 'query'>

export const NONE_OF_IT = '(none)'

/** A condition of a filter: what it is called, and how its values are put in words. */
export interface Condition {
  name: Name
  label: string
  words: (value: string, quizzes?: readonly { id: number; title: string }[]) => string
}

const plain = (value: string) => value
const code = (value: string) => value.replaceAll('-', ' ')
const yes = (there: string, not: string) => (value: string) => (value === 'true' ? there : not)

export const CONDITIONS: readonly Condition[] = [
  { name: 'type', label: 'Type', words: (value) => WORDS.types[value] ?? value },
  { name: 'outcome', label: 'Outcome', words: plain },
  { name: 'difficulty', label: 'Difficulty', words: plain },
  { name: 'points', label: 'Points', words: plain },
  { name: 'source', label: 'Source', words: plain },
  {
    name: 'quiz',
    label: 'Quiz',
    words: (value, quizzes) => quizzes?.find((quiz) => String(quiz.id) === value)?.title ?? value,
  },
  { name: 'findings', label: 'Findings', words: (value) => (value === 'any' ? 'any open' : code(value)) },
  {
    name: 'advice',
    label: 'Advice',
    words: (value) => (value === 'any' ? 'any open' : (WORDS.advice[value] ?? code(value))),
  },
  { name: 'picture', label: 'Picture', words: yes('with', 'without') },
  { name: 'formula', label: 'Formula', words: yes('with', 'without') },
  { name: 'feedback', label: 'Feedback', words: yes('with', 'without') },
  {
    name: 'handed',
    label: 'Handed on',
    words: (value) => ({ yes: 'yes', no: 'not yet', changed: 'changed since' })[value] ?? value,
  },
  { name: 'since', label: 'Changed since', words: plain },
]
const TRUTHS = new Set<Name>(['picture', 'formula', 'feedback'])

export function wordsOf(
  condition: Condition,
  value: string,
  quizzes?: readonly { id: number; title: string }[],
): string {
  return value === NONE_OF_IT ? 'none' : condition.words(value, quizzes)
}

/** A filter as the address has it. */
export function filterOf(query: LocationQuery): ItemFilter {
  const filter: Record<string, unknown> = {}
  if (query.pool) filter.pool = Number(query.pool)
  if (query.below === '0') filter.with_subpools = false
  if (query.q) filter.query = String(query.q)
  for (const { name } of CONDITIONS) {
    const value = query[name]
    if (typeof value === 'string' && value) filter[name] = TRUTHS.has(name) ? value === 'true' : value
  }
  return filter as ItemFilter
}

/** The address of a filter: every condition by its name, those that are not set left out. */
export function addressOf(filter: ItemFilter): Record<string, string | undefined> {
  const conditions = CONDITIONS.map(({ name }) => {
    const value = filter[name]
    return [name, value === undefined || value === null || value === '' ? undefined : String(value)] as const
  })
  return {
    pool: filter.pool ? String(filter.pool) : undefined,
    below: filter.with_subpools === false ? '0' : undefined,
    q: filter.query || undefined,
    ...Object.fromEntries(conditions),
  }
}

/** The filter and the order of the list, in the address; and ways to change them. */
export function useFilter(item: Ref<number>) {
  const route = useRoute()
  const router = useRouter()
  const filter = computed<ItemFilter>(() => filterOf(route.query))
  const order = computed<ItemOrder>(() => ({
    sort: (route.query.sort as ItemOrder['sort'] | undefined) ?? 'position',
    descending: route.query.desc === '1',
  }))
  const set = computed(() => CONDITIONS.filter(({ name }) => filter.value[name] !== undefined))

  function go(change: Record<string, string | undefined>): void {
    void router.replace({ query: { ...route.query, ...change } })
  }
  function put(name: Name, value: string | undefined): void {
    go({ [name]: value || undefined })
  }
  /** Sorted by this, and the other way round where it is sorted so already. */
  function sortBy(sort: ItemOrder['sort']): void {
    const again = order.value.sort === sort
    go({
      sort: sort === 'position' ? undefined : sort,
      desc: again && !order.value.descending && sort !== 'position' ? '1' : undefined,
    })
  }
  function clear(): void {
    const none = Object.fromEntries(CONDITIONS.map(({ name }) => [name, undefined]))
    go({ ...none, q: undefined })
  }
  function show(kept: ItemFilter): void {
    void router.replace({ query: { ...addressOf(kept), item: item.value ? String(item.value) : undefined } })
  }
  return { filter, order, set, go, put, sortBy, clear, show }
}

export type Filtering = ReturnType<typeof useFilter>

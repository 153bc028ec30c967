import { onScopeDispose, ref, watch, type Ref } from 'vue'

import { streamed, type Schemas } from '@/api/client'
import { sayProblem } from '@/ui/say'

import type { Scope } from './scopes'

export type Standing = Schemas['MatrixRow']['standing']
/** A verdict as in the ledger, from the least to the worst, or that it is not taken at all. */
export const STANDINGS: readonly Standing[] = ['same', 'added', 'recast', 'changed', 'lost', 'refused']

/** What one receiver will make of what is chosen. */
export interface Line {
  key: string
  title: string
  kind: string
  format: string
  label: string
  because: string
  totals: Record<Standing, number>
  /** The same items counted by what students see and are marked by, and by what only the instructor sees. */
  for_students: Record<Standing, number>
  for_you: Record<Standing, number>
  files: number
  worded: number
  facets: Record<string, Record<string, number>>
  quizzes: {
    title: string
    worst: string
    facets: Record<string, string>
    notes: { facet: string; message: string }[]
  }[]
  formats: { name: string; label: string }[]
}

interface Head {
  title: string
  items: number
  receivers: number
}

function facetSums(lines: Line[]): Line['facets'] {
  const found: Line['facets'] = {}
  for (const line of lines)
    for (const [facet, sums] of Object.entries(line.facets))
      for (const [verdict, count] of Object.entries(sums)) {
        const entry = (found[facet] ??= {})
        entry[verdict] = (entry[verdict] ?? 0) + count
      }
  return found
}

/** Lines of the same receiver for several things that are handed on, as one. */
function together(lines: Line[]): Line {
  const [first] = lines as [Line]
  const sums = (of: 'totals' | 'for_students' | 'for_you') =>
    Object.fromEntries(
      STANDINGS.map((name) => [name, lines.reduce((sum, line) => sum + line[of][name], 0)]),
    ) as Line['totals']
  return {
    ...first,
    totals: sums('totals'),
    for_students: sums('for_students'),
    for_you: sums('for_you'),
    facets: facetSums(lines),
    quizzes: lines.flatMap((line) => line.quizzes),
    worded: lines.reduce((sum, line) => sum + line.worded, 0),
    label: [...new Set(lines.map((line) => line.label))].join(', '),
    because: lines.length === 1 ? first.because : `${lines.length} things, each in the format that keeps most of it.`,
  }
}

/** Forecasts of what is chosen for receivers, each as soon as it is known; asked anew when either changes. */
export function useForecast(course: Ref<number>, scopes: Ref<Scope[]>, receivers: Ref<string[]>) {
  const found = ref<Record<string, Line[]>>({})
  const items = ref<number>()
  const asking = ref(false)
  const failed = ref<unknown>()
  let abort: AbortController | undefined

  async function ask(): Promise<void> {
    abort?.abort()
    const mine = (abort = new AbortController())
    found.value = {}
    items.value = undefined
    failed.value = undefined
    if (!receivers.value.length) return
    asking.value = true
    try {
      for (const what of scopes.value) {
        const body = { what, receivers: receivers.value }
        for await (const line of streamed<Head | Line>(`/api/courses/${course.value}/forecast`, body, mine.signal)) {
          if (mine.signal.aborted) return
          if ('key' in line) found.value = { ...found.value, [line.key]: [...(found.value[line.key] ?? []), line] }
          else items.value = (items.value ?? 0) + line.items
        }
      }
    } catch (error) {
      if (mine.signal.aborted) return
      failed.value = error
      sayProblem(error)
    } finally {
      if (abort === mine) asking.value = false
    }
  }
  watch([course, scopes, receivers], ask, { immediate: true, deep: true })
  onScopeDispose(() => abort?.abort())
  const lineOf = (key: string) => {
    const lines = found.value[key]
    return lines && lines.length === scopes.value.length ? together(lines) : undefined
  }
  return { lineOf, items, asking, failed, ask }
}

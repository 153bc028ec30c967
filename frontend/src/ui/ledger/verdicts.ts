import type { Schemas } from '@/api/client'
import { WORDS } from '@/ui/words'

export type Verdict = Schemas['LedgerItem']['facets'][string]

interface Judged {
  facets: Partial<Record<string, Verdict>>
  notes?: { code: string }[]
}

/** The worst of what students see and are marked by. A passage is judged with the grouping, and students read it. */
export function forStudents(entry: Judged): Verdict {
  const passage = entry.notes?.some((note) => note.code.startsWith('stimulus-'))
  return worstOf(only(entry.facets, (facet) => !WORDS.own_facets.includes(facet) || (passage && facet === 'grouping')))
}

/** The worst of what only the instructor sees. */
export function forYou(entry: Judged): Verdict {
  return worstOf(only(entry.facets, (facet) => WORDS.own_facets.includes(facet)))
}

function only(facets: Judged['facets'], wanted: (facet: string) => boolean | undefined): Judged['facets'] {
  return Object.fromEntries(Object.entries(facets).filter(([facet]) => wanted(facet)))
}

/** From the worst to what is the same; equals stay as they stood. */
export function worstFirst<T extends Judged>(entries: readonly T[]): T[] {
  const rank = (entry: T) => WORDS.verdicts.indexOf(forStudents(entry)) * 10 + WORDS.verdicts.indexOf(forYou(entry))
  return [...entries].sort((a, b) => rank(b) - rank(a))
}

/** The worst verdict of all facets; the core lists verdicts from the least to the worst. */
export function worstOf(facets: Partial<Record<string, Verdict>>): Verdict {
  const rank = (verdict: Verdict | undefined) => WORDS.verdicts.indexOf(verdict ?? 'same')
  return Object.values(facets).reduce<Verdict>((worst, one) => (one && rank(one) > rank(worst) ? one : worst), 'same')
}

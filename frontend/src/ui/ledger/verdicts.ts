import type { Schemas } from '@/api/client'
import { WORDS } from '@/ui/words'

export type Verdict = Schemas['LedgerItem']['facets'][string]

/** From the worst to what is the same, what students see first; equals stay as they stood. `order` is from the least to the worst. */
export function worstFirst<Name extends string, T extends Record<'for_students' | 'for_you', Name>>(
  entries: readonly T[],
  order: readonly Name[],
): T[] {
  const rank = (entry: T) => order.indexOf(entry.for_students) * order.length + order.indexOf(entry.for_you)
  return [...entries].sort((a, b) => rank(b) - rank(a))
}

/** The worst verdict of all facets; the core lists verdicts from the least to the worst. */
export function worstOf(facets: Partial<Record<string, Verdict>>): Verdict {
  const rank = (verdict: Verdict | undefined) => WORDS.verdicts.indexOf(verdict ?? 'same')
  return Object.values(facets).reduce<Verdict>((worst, one) => (one && rank(one) > rank(worst) ? one : worst), 'same')
}

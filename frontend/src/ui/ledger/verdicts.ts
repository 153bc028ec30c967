import type { Schemas } from '@/api/client'
import { WORDS } from '@/ui/words'

export type Verdict = Schemas['LedgerItem']['facets'][string]

/** The worst verdict of all facets; the core lists verdicts from the least to the worst. */
export function worstOf(facets: Partial<Record<string, Verdict>>): Verdict {
  const rank = (verdict: Verdict | undefined) => WORDS.verdicts.indexOf(verdict ?? 'same')
  return Object.values(facets).reduce<Verdict>((worst, one) => (one && rank(one) > rank(worst) ? one : worst), 'same')
}

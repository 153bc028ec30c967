export const FACETS = [
  'type',
  'stem',
  'formatting',
  'math',
  'media',
  'choices',
  'key',
  'marking',
  'feedback',
  'metadata',
  'grouping',
] as const
export type Facet = (typeof FACETS)[number]

/** From the least to the worst. */
export const VERDICTS = ['same', 'added', 'recast', 'changed', 'lost'] as const
export type Verdict = (typeof VERDICTS)[number]

export function worstOf(facets: Partial<Record<Facet, Verdict>>): Verdict {
  return Object.values(facets).reduce<Verdict>(
    (worst, one) => (VERDICTS.indexOf(one) > VERDICTS.indexOf(worst) ? one : worst),
    'same',
  )
}

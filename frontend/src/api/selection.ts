import type { Schemas } from './client'

/** A selection without anything: no item by number, and no condition. */
export const NOTHING: Schemas['Selection'] = {
  ids: [],
  all_matching: false,
  without: [],
  with_subpools: true,
  query: '',
  type: '',
  outcome: '',
  difficulty: '',
  points: '',
  source: '',
  findings: '',
  advice: '',
  quiz: '',
  handed: '',
}

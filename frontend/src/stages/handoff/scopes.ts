import type { Schemas } from '@/api/client'
import { NOTHING } from '@/api/selection'

export type Scope = Schemas['ScopeIn']

/** What is chosen, as it stands in an address: `all`, `selected`, `pool-3`, `quiz-5`. */
export type Code = string

/** What a code means for the server; `selected` is what was selected in the pools. */
export function scopeOf(code: Code, selected?: Schemas['Selection']): Scope {
  const [kind, id] = code.split('-')
  if (kind === 'quiz') return { quiz: Number(id), selection: null }
  if (kind === 'items') return { quiz: null, selection: { ...NOTHING, ids: (id ?? '').split(',').map(Number) } }
  const pool = kind === 'pool' ? Number(id) : null
  const wanted = (kind === 'selected' && selected) || { ...NOTHING, all_matching: true, pool }
  return { quiz: null, selection: wanted }
}

/** The codes that an address asks for. */
export function codesOf(query: Record<string, unknown>, selected: boolean): Code[] {
  if (typeof query.what === 'string' && query.what) return query.what.split(' ')
  if (query.selected && selected) return ['selected']
  if (query.quiz) return [`quiz-${String(query.quiz)}`]
  if (query.pool) return [`pool-${String(query.pool)}`]
  return ['all']
}

/** The number of a row of the matrix in the course. */
export const numberOf = (row: Schemas['MatrixRow']) => Number(row.id.replace(/^i/, ''))

import type { Schemas } from '@/api/client'
import { asked, type ItemFilter } from '@/api/queries'
import { NOTHING } from '@/api/selection'

/** Which rows are selected: some by number, or all that match the filter but for some. It always knows how many it holds. */
export interface Chosen {
  ids: number[]
  all: boolean
  /** Those that were taken out again where all that match are selected. */
  without?: number[]
}

export const NONE: Chosen = { ids: [], all: false }

export function toggled(chosen: Chosen, id: number): Chosen {
  if (chosen.all) return { ids: [], all: true, without: flipped(chosen.without ?? [], id) }
  return { ids: flipped(chosen.ids, id), all: false }
}

function flipped(ids: readonly number[], id: number): number[] {
  return ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id]
}

/** All rows between the last selected and this one, of those that are loaded in order. */
export function extended(chosen: Chosen, id: number, order: readonly number[]): Chosen {
  const anchor = chosen.ids.at(-1)
  const from = anchor === undefined ? -1 : order.indexOf(anchor)
  const to = order.indexOf(id)
  if (from < 0 || to < 0) return toggled(chosen, id)
  const between = order.slice(Math.min(from, to), Math.max(from, to) + 1)
  return { ids: [...new Set([...chosen.ids, ...between, id])], all: false }
}

export function has(chosen: Chosen, id: number): boolean {
  return chosen.all ? !chosen.without?.includes(id) : chosen.ids.includes(id)
}

/** How many rows are selected, of so many that match. */
export function held(chosen: Chosen, total: number): number {
  return chosen.all ? Math.max(0, total - (chosen.without?.length ?? 0)) : chosen.ids.length
}

export function words(chosen: Chosen, total: number): string {
  const count = held(chosen, total).toLocaleString('en')
  if (chosen.all)
    return chosen.without?.length ? `all that match but ${chosen.without.length}: ${count}` : `all ${count} that match`
  return chosen.ids.length === 1 ? '1 item' : `${count} items`
}

/** What is selected, as the server is told: by number, or as all that match the filter. */
export function selectionOf(chosen: Chosen, filter: ItemFilter): Schemas['Selection'] {
  const ids = chosen.all ? [] : chosen.ids
  return { ...NOTHING, ...asked(filter), ids, all_matching: chosen.all, without: chosen.without ?? [] }
}

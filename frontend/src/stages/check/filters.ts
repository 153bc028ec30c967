import type { Schemas } from '@/api/client'

type Cell = Schemas['StripCell']

/** What the proof can be narrowed to, by the name that stands in the address. */
export const FILTERS: Record<string, { label: string; keeps: (cell: Cell) => boolean }> = {
  look: { label: 'needs a look', keeps: (cell) => cell.needs_look },
  advice: { label: 'with advice', keeps: (cell) => cell.advice.length > 0 },
  picture: { label: 'with a picture', keeps: (cell) => cell.has.includes('picture') },
  formula: { label: 'with a formula', keeps: (cell) => cell.has.includes('formula') },
  silent: { label: 'without feedback', keeps: (cell) => !cell.has.includes('feedback') },
  edited: { label: 'changed by hand', keeps: (cell) => cell.edited },
}

/** The cells that all chosen filters keep, of one type or all. */
export function kept(cells: readonly Cell[], chosen: readonly string[], type: string): Cell[] {
  return cells.filter(
    (cell) => (!type || cell.type === type) && chosen.every((name) => FILTERS[name]?.keeps(cell) ?? true),
  )
}

/** How many cells each filter would keep, on its own. */
export function counts(cells: readonly Cell[]): Record<string, number> {
  return Object.fromEntries(Object.entries(FILTERS).map(([name, { keeps }]) => [name, cells.filter(keeps).length]))
}

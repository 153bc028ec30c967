/** Which rows are selected: some by number, or all that match the filter. It always knows how many it holds. */
export interface Chosen {
  ids: number[]
  all: boolean
}

export const NONE: Chosen = { ids: [], all: false }

export function toggled(chosen: Chosen, id: number): Chosen {
  if (chosen.all) return { ids: [id], all: false }
  return { ids: chosen.ids.includes(id) ? chosen.ids.filter((other) => other !== id) : [...chosen.ids, id], all: false }
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
  return chosen.all || chosen.ids.includes(id)
}

export function words(chosen: Chosen, total: number): string {
  if (chosen.all) return `all ${total.toLocaleString('en')} that match`
  return chosen.ids.length === 1 ? '1 item' : `${chosen.ids.length.toLocaleString('en')} items`
}

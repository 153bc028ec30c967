interface Cell {
  position: number
  needs_look: boolean
  taken: boolean
  dropped: boolean
}

/** The next flagged item from a position on, in either direction, around the end; undefined when none is flagged. */
export function nextFlagged(cells: readonly Cell[], from: number, direction: 1 | -1): number | undefined {
  const flagged = cells.filter((cell) => cell.needs_look).map((cell) => cell.position)
  if (direction === 1) return flagged.find((position) => position > from) ?? flagged[0]
  return flagged.findLast((position) => position < from) ?? flagged.at(-1)
}

export function flaggedCount(cells: readonly Cell[]): number {
  return cells.filter((cell) => cell.needs_look).length
}

export function waitingCount(cells: readonly Cell[]): number {
  return cells.filter((cell) => !cell.taken && !cell.dropped).length
}

export function soundCount(cells: readonly Cell[]): number {
  return cells.filter((cell) => !cell.taken && !cell.dropped && !cell.needs_look).length
}

interface Cell {
  position: number
  worst: string
  taken: boolean
  dropped: boolean
}

const needsALook = (cell: Cell): boolean =>
  !cell.taken && !cell.dropped && (cell.worst === 'error' || cell.worst === 'warning')

/** The next flagged item from a position on, in either direction, around the end; undefined when none is flagged. */
export function nextFlagged(cells: readonly Cell[], from: number, direction: 1 | -1): number | undefined {
  const flagged = cells.filter(needsALook).map((cell) => cell.position)
  if (direction === 1) return flagged.find((position) => position > from) ?? flagged[0]
  return flagged.findLast((position) => position < from) ?? flagged.at(-1)
}

export function flaggedCount(cells: readonly Cell[]): number {
  return cells.filter(needsALook).length
}

export function waitingCount(cells: readonly Cell[]): number {
  return cells.filter((cell) => !cell.taken && !cell.dropped).length
}

export function soundCount(cells: readonly Cell[]): number {
  return cells.filter((cell) => !cell.taken && !cell.dropped && !needsALook(cell)).length
}

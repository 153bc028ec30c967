export interface Cell {
  position: number
  needs_look: boolean
  taken: boolean
  dropped: boolean
}

/** A place to look at: an item of a reading. */
export interface Place {
  reading: number
  position: number
}

interface Waiting {
  reading: number
  positions: readonly number[]
}

/** What needs a look, with the reading that is open as it stands there: the list of all may be older. */
export function withOwn(
  look: readonly Waiting[],
  reading: number,
  cells: readonly Cell[],
  order: readonly number[],
): Waiting[] {
  const positions = cells.filter((cell) => cell.needs_look).map((cell) => cell.position)
  const others = look.filter((entry) => entry.reading !== reading)
  const behind = others.findIndex((entry) => order.indexOf(entry.reading) > order.indexOf(reading))
  return others.toSpliced(behind < 0 ? others.length : behind, 0, ...(positions.length ? [{ reading, positions }] : []))
}

const inOrder = (look: readonly Waiting[]): Place[] =>
  look.flatMap(({ reading, positions }) => positions.map((position) => ({ reading, position })))

/**
 * The next place to look at over all sources, in either direction and around the end. From a reading that has none left it goes on
 * with the sources behind it.
 */
export function nextPlace(
  look: readonly Waiting[],
  from: Place,
  direction: 1 | -1,
  order: readonly number[],
): Place | undefined {
  const rank = (reading: number) => order.indexOf(reading)
  const isBehind = (place: Place) =>
    place.reading === from.reading ? place.position > from.position : rank(place.reading) > rank(from.reading)
  const isBefore = (place: Place) =>
    place.reading === from.reading ? place.position < from.position : rank(place.reading) < rank(from.reading)
  const places = inOrder(look)
  if (direction === 1) return places.find(isBehind) ?? places[0]
  return places.findLast(isBefore) ?? places.at(-1)
}

/** Which of the places of its own reading this is, from 1, and how many there are; 0 where it is none of them. */
export function placeAmong(look: readonly Waiting[], at: Place): { number: number; of: number } {
  const positions = look.find((entry) => entry.reading === at.reading)?.positions ?? []
  return { number: positions.indexOf(at.position) + 1, of: positions.length }
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

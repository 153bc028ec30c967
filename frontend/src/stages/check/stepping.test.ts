import { describe, expect, it } from 'vitest'

import { flaggedCount, nextPlace, placeAmong, soundCount, waitingCount, withOwn } from './stepping'

const cell = (position: number, worst: string, taken = false, dropped = false) => ({
  position,
  taken,
  dropped,
  needs_look: ['error', 'warning'].includes(worst) && !taken && !dropped,
})
const cells = [
  cell(1, ''),
  cell(2, 'error'),
  cell(3, 'note'),
  cell(4, 'warning'),
  cell(5, 'error', true),
  cell(6, 'error', false, true),
]

// Reading 9 came before 5, which is sound, and 7.
const look = [
  { reading: 9, positions: [2, 4] },
  { reading: 7, positions: [3] },
]
const order = [9, 5, 7]

describe('stepping through what needs a look', () => {
  it.each([
    [9, 1, 1, 9, 2],
    [9, 2, 1, 9, 4],
    [9, 4, 1, 7, 3],
    [7, 3, 1, 9, 2],
    [5, 1, 1, 7, 3],
    [7, 3, -1, 9, 4],
    [9, 4, -1, 9, 2],
    [9, 2, -1, 7, 3],
    [5, 1, -1, 9, 4],
  ] as const)(
    'from item %2$i of reading %1$i in direction %3$i comes to the next of all',
    (reading, position, direction, then, at) => {
      expect(nextPlace(look, { reading, position }, direction, order)).toEqual({ reading: then, position: at })
    },
  )

  it('finds nothing where nothing is flagged', () => {
    expect(nextPlace([], { reading: 9, position: 1 }, 1, order)).toBeUndefined()
  })

  it('takes the open reading as it stands, in its place among the others', () => {
    const own = { reading: 5, positions: [2, 4] }
    expect(withOwn(look, 5, cells, order)).toEqual([look[0], own, look[1]])
    expect(withOwn([...look, { reading: 5, positions: [1] }], 5, cells, order)).toEqual([look[0], own, look[1]])
    expect(withOwn([...look, own], 5, [cell(1, '')], order)).toEqual(look)
  })

  it('says which of the places of its source it is: the same number as stands above', () => {
    expect(placeAmong(look, { reading: 7, position: 3 })).toEqual({ number: 1, of: 1 })
    expect(placeAmong(look, { reading: 5, position: 1 })).toEqual({ number: 0, of: 0 })
    expect(placeAmong(withOwn(look, 5, cells, order), { reading: 5, position: 4 })).toEqual({
      number: 2,
      of: flaggedCount(cells),
    })
  })

  it('counts neither what was taken nor what was left out', () => {
    expect([flaggedCount(cells), waitingCount(cells), soundCount(cells)]).toEqual([2, 4, 2])
  })
})

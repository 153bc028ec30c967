import { describe, expect, it } from 'vitest'

import { flaggedCount, nextFlagged, soundCount, waitingCount } from './stepping'

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

describe('stepping through what needs a look', () => {
  it.each([
    [1, 1, 2],
    [2, 1, 4],
    [4, 1, 2],
    [2, -1, 4],
    [4, -1, 2],
  ] as const)('from %i in direction %i comes to %i', (from, direction, to) => {
    expect(nextFlagged(cells, from, direction)).toBe(to)
  })

  it('finds nothing where nothing is flagged', () => {
    expect(nextFlagged([cell(1, ''), cell(2, 'note')], 1, 1)).toBeUndefined()
  })

  it('counts neither what was taken nor what was left out', () => {
    expect([flaggedCount(cells), waitingCount(cells), soundCount(cells)]).toEqual([2, 4, 2])
  })
})

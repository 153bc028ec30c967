import { expect, it } from 'vitest'

import { extended, has, NONE, toggled, words } from './selection'

it('knows what it holds', () => {
  const two = toggled(toggled(NONE, 4), 9)
  expect(words(two, 20_000)).toBe('2 items')
  expect(words({ ids: [], all: true }, 20_000)).toBe('all 20,000 that match')
  expect(has({ ids: [], all: true }, 17)).toBe(true)
  expect(toggled(two, 4).ids).toEqual([9])
})

it('extends from the last selected item, in either direction', () => {
  const order = [1, 2, 3, 4, 5]
  expect(extended({ ids: [4], all: false }, 2, order).ids.sort()).toEqual([2, 3, 4])
  expect(extended({ ids: [99], all: false }, 2, order).ids).toEqual([99, 2])
})

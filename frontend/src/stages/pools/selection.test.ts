import { expect, it } from 'vitest'

import { extended, has, held, NONE, selectionOf, toggled, words } from './selection'

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

it('takes some out of all that match, and counts the rest', () => {
  const but = toggled(toggled({ ids: [], all: true }, 5), 9)
  expect([has(but, 5), has(but, 6), held(but, 240), words(but, 240)]).toEqual([
    false,
    true,
    238,
    'all that match but 2: 238',
  ])
  expect(toggled(but, 5).without).toEqual([9])
})

it('tells the server what is selected: by number, or as the filter has it', () => {
  const all = selectionOf({ ids: [4], all: true, without: [9] }, { type: 'essay', query: '' })
  expect([all.all_matching, all.ids, all.without, all.type, all.query]).toEqual([true, [], [9], 'essay', ''])
  expect(selectionOf({ ids: [4], all: false }, {}).ids).toEqual([4])
})

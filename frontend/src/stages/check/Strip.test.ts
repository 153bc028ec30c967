import { expect, it } from 'vitest'

import { nth, shown } from '@/testing'

import Strip from './Strip.vue'

const cell = (position: number, fields = {}) => ({
  position,
  type: 'multiple_choice',
  text: `Question ${position}`,
  worst: '',
  taken: false,
  dropped: false,
  codes: [],
  first: position,
  last: position,
  ...fields,
})

it('says of each item how it stands, in words as well as in colour', async () => {
  const cells = [
    cell(1),
    cell(2, { worst: 'error' }),
    cell(3, { worst: 'warning', dropped: true }),
    cell(4, { worst: 'note', taken: true }),
  ]
  const { view } = await shown(Strip, { cells, current: 2 })
  const buttons = view.findAll('button')
  expect(buttons.map((button) => button.attributes('aria-label'))).toEqual([
    'Item 1, sound: Question 1',
    'Item 2, error: Question 2',
    'Item 3, left out: Question 3',
    'Item 4, taken: Question 4',
  ])
  expect(buttons.map((button) => button.attributes('aria-current'))).toEqual(['false', 'true', 'false', 'false'])
  await nth(buttons, 3).trigger('click')
  expect(view.emitted('pick')).toEqual([[4]])
})

import { expect, it } from 'vitest'

import { nth, shown } from '@/testing'

import Figures from './Figures.vue'
import PartRow from './PartRow.vue'

const FIGURES = {
  items: 12,
  points: 20,
  minutes: 25,
  overlap: 3.14159,
  worst: 8,
  at_least_half: 0.123,
  outcomes: ['2.1', '2.3'],
  problems: ['The pool Texture has only 4 items.'],
}
const words = (text: string) => text.replace(/\s+/g, ' ')

it('adds a quiz up, with what stands in its way', async () => {
  const { view } = await shown(Figures, { figures: FIGURES })
  const text = words(view.text())
  for (const part of ['12', '20', '25 min', '3.1 on average', '8', '12 %', '2.1, 2.3', 'only 4 items'])
    expect(text).toContain(part)
})

it('says where students could earn different points', async () => {
  const { view } = await shown(Figures, { figures: { ...FIGURES, points: null, outcomes: [], problems: [] } })
  expect(view.find('.differ').text()).toBe('differ')
  expect(view.text()).not.toContain('Outcomes')
})

const draw = { pool_size: 30, overlap: 1.66, worst: 5, at_least_half: 0.2, half: 3, needed_for_quarter: 20 }
const part = (fields = {}) => ({
  id: 1,
  kind: 'draw',
  title: 'Texture',
  pool: 4,
  pick: 5,
  points_each: 2,
  items: [],
  draw,
  ...fields,
})

it('says what two students share of a draw', async () => {
  const { view } = await shown(PartRow, { part: part(), course: 1, first: true, last: false })
  const text = words(view.text())
  expect(text).toContain('share 1.7 of these 5 on average, 5 at worst; 20 % of pairs share 3 or more')
  expect(text).toContain('the pool needs 20 items')
  const moves = view.findAll('.tools button')
  expect(nth(moves, 0).attributes('disabled')).toBeDefined()
  await nth(moves, 1).trigger('click')
  await nth(moves, 2).trigger('click')
  expect(view.emitted('move')).toEqual([[1]])
  expect(view.emitted('remove')).toHaveLength(1)
})

it('says where a pool is too small, and leads to it', async () => {
  const { view } = await shown(PartRow, {
    part: part({ draw: { ...draw, pool_size: 3 } }),
    course: 1,
    first: true,
    last: true,
  })
  expect(view.find('.exposure').classes('short')).toBe(true)
  expect(view.text()).toContain('only 3 items')
  expect(view.find('a').attributes('href')).toBe('/c/1/pools?pool=4')
})

it('changes how many are drawn, but not to what it is already', async () => {
  const { view } = await shown(PartRow, { part: part(), course: 1, first: false, last: false })
  const field = view.find('input[aria-label="How many from Texture"]')
  await field.setValue('5')
  await field.setValue('8')
  expect(view.emitted('change')).toEqual([[{ pick: 8, set_points: false, points_each: 2 }]])
})

it('lists fixed items', async () => {
  const items = [
    { id: 9, text: '', type: 'essay', points: null },
    { id: 10, text: 'Which?', type: 'numeric', points: 1 },
  ]
  const { view } = await shown(PartRow, {
    part: part({ kind: 'fixed', draw: null, items }),
    course: 1,
    first: true,
    last: true,
  })
  expect(words(view.text())).toContain('2 items, the same for everyone')
  expect(view.findAll('.fixed li').map((row) => words(row.text()))).toEqual([
    'no stemessay, no points',
    'Which?numeric, 1 point',
  ])
})

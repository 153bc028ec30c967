import { ref } from 'vue'
import { expect, it } from 'vitest'

import { nth, shown, sure } from '@/testing'

import PartRow from './PartRow.vue'
import { fixed, line, part } from './testing'

const words = (text: string) => text.replace(/\s+/g, ' ')
const order = { dragged: ref(), over: ref(), behind: ref(false), start() {}, hover() {}, drop() {}, end() {} }

async function row(of: ReturnType<typeof part>, more = {}) {
  const props = { part: of, course: 1, mayEdit: true, chosen: false, chosenItems: new Set(), folded: false, order }
  return (await shown(PartRow, { ...props, ...more })).view
}

it('says what two students share of a draw, and what pool a wanted overlap needs', async () => {
  const view = await row(part(1))
  expect(words(view.text())).toContain('share 1.7 of these 5 on average, 5 at worst; 20 % of pairs share 3 or more')
  expect(words(view.text())).toContain('the pool needs 25 items')
  await view.find('select').setValue('3')
  expect(words(view.text())).toContain('the pool needs 9 items')
})

it('says where a pool is too small, and leads to it', async () => {
  const of = part(1)
  const view = await row({ ...of, draw: { ...sure(of.draw), pool_size: 3, where_words: 'not hard' } })
  expect(view.find('.exposure').classes('short')).toBe(true)
  expect(view.text()).toContain('3 items can be drawn')
  expect(view.find('.chip').text()).toBe('not hard')
  expect(view.find('.head a').attributes('href')).toBe('/c/1/pools?pool=4')
})

it('changes how many are drawn, but not to what it is already', async () => {
  const view = await row(part(1))
  const field = view.find('input[aria-label="How many from Pool 1"]')
  await field.setValue('5')
  await field.setValue('8')
  expect(view.emitted('change')).toEqual([[{ pick: 8 }]])
})

it('lists fixed items with signs for what a line does not show', async () => {
  const items = [line(9, { text: '', points: null }), line(10, { type: 'numeric', table: true, picture: true })]
  const view = await row(fixed(2, 'Fixed', [], { items }))
  expect(words(view.text())).toContain('2 items, the same for everyone')
  const lines = view.findAll('.fixed li')
  expect(nth(lines, 0).text()).toContain('no stem')
  expect(
    nth(lines, 1)
      .findAll('.sign')
      .map((sign) => sign.attributes('aria-label')),
  ).toEqual(['with a picture', 'with a table'])
})

it('draws one more where something that a plan picked was put back', async () => {
  const view = await row(fixed(2, 'Chapter 3: hard', [9], { picked_from: { label: 'Chapter 3: hard', wanted: 2 } }))
  await sure(view.find('.picked button')).trigger('click')
  expect(view.emitted('again')).toEqual([[null]])
})

it('folds, and shows a reader nothing that changes it', async () => {
  const view = await row(fixed(2, 'Fixed', [9]))
  await view.find('.fold').trigger('click')
  expect(view.emitted('fold')).toEqual([[true]])
  const reading = await row(fixed(2, 'Fixed', [9], { page_break: true }), { mayEdit: false, folded: true })
  expect(reading.find('.handle').exists()).toBe(false)
  expect(reading.find('.fixed').exists()).toBe(false)
  expect(reading.text()).toContain('a new page begins here')
})

import { expect, it } from 'vitest'

import { cell, nth, reading, readItem, shown, sure } from '@/testing'

import AdviceDialog from './AdviceDialog.vue'
import { counts, kept } from './filters'
import ProofItem from './ProofItem.vue'

const cells = [
  cell(1, 'error', { has: ['picture'] }),
  cell(2, '', { has: ['formula', 'feedback'], edited: true, type: 'numeric' }),
  cell(3, '', { has: ['picture', 'feedback'], advice: ['key-longest'] }),
]
const positions = (chosen: string[], type = '') => kept(cells, chosen, type).map((entry) => entry.position)

it('keeps what all chosen filters keep', () => {
  expect(positions([])).toEqual([1, 2, 3])
  expect(positions(['look'])).toEqual([1])
  expect(positions(['picture'])).toEqual([1, 3])
  expect(positions(['picture', 'silent'])).toEqual([1])
  expect(positions(['edited'], 'numeric')).toEqual([2])
  expect(positions(['edited'], 'essay')).toEqual([])
  expect(counts(cells)).toEqual({ look: 1, advice: 1, picture: 2, formula: 1, silent: 1, edited: 1 })
})

it('sets an item with its number, its place and what is said of it in the margin', async () => {
  const advice = {
    level: 'advice',
    code: 'key-longest',
    message: 'The key is the longest.',
    where: '',
    fix: '',
    ways: [],
    dismissed: false,
  }
  const { view } = await shown(ProofItem, { cell: cells[2], item: readItem(3, { advice: [advice] }), current: true })
  expect(view.find('.number button').text()).toBe('3')
  expect(view.find('.margin').text()).toContain('line 30')
  expect(view.find('.margin').text()).toContain('The key is the longest.')
  await view.find('.number button').trigger('click')
  expect(view.emitted('open')).toHaveLength(1)
})

it('lists the kinds of advice with their counts, and puts one off', async () => {
  const { view } = await shown(AdviceDialog, { modelValue: true, reading: reading({ cells }), off: [] })
  const box = sure(document.querySelector<HTMLInputElement>('.el-dialog input'))
  expect(document.querySelector('.el-dialog li')?.textContent).toContain('on 1')
  box.dispatchEvent(new Event('change'))
  expect(nth(sure(view.emitted('off')), 0)).toEqual([['key-longest']])
})

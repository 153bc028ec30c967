import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { cell, nth, reading, shown } from '@/testing'

import PaneDivider from './PaneDivider.vue'
import SourceSearch from './SourceSearch.vue'
import SummaryLine from './SummaryLine.vue'

it('moves the border between the panes by the arrows, and keeps both wide enough', async () => {
  const { view } = await shown(PaneDivider, { modelValue: 24 })
  const press = (key: string) => view.find('.divider').trigger('keydown', { key })
  await press('ArrowRight')
  await press('ArrowLeft')
  expect(view.emitted('update:modelValue')?.flat()).toEqual([26, 24])
  await view.setProps({ modelValue: 23 })
  await press('ArrowLeft')
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([22])
  await view.setProps({ modelValue: 71.5 })
  await press('ArrowRight')
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([72])
})

const HITS = [
  { line: 3, item: 1, text: 'clay and sand' },
  { line: 8, item: null, text: 'more clay' },
]
async function search() {
  vi.useFakeTimers()
  const { view, asked } = await shown(SourceSearch, { reading: 5 }, { answers: { 'GET /api/readings/5/search': HITS } })
  await view.find('button').trigger('click')
  const typed = async (words: string) => {
    await view.find('input').setValue(words)
    await vi.advanceTimersByTimeAsync(250)
    vi.useRealTimers()
    await flushPromises()
    await flushPromises()
  }
  return { view, asked, typed }
}

it('goes on from hit to hit in the source, round and back', async () => {
  const { view, typed } = await search()
  await typed('clay')
  const field = view.find('input')
  expect(view.find('.faint').text()).toBe('– of 2')
  await field.trigger('keydown', { key: 'Enter' })
  await field.trigger('keydown', { key: 'Enter' })
  await field.trigger('keydown', { key: 'Enter' })
  expect(view.emitted('hit')?.flat()).toEqual([HITS[0], HITS[1], HITS[0]])
  expect(view.find('.faint').text()).toBe('1 of 2')
  await field.trigger('keydown', { key: 'Enter', shiftKey: true })
  expect(view.emitted('hit')?.at(-1)).toEqual([HITS[1]])
})

it('asks for nothing by a single letter, and closes by Esc', async () => {
  const { view, asked, typed } = await search()
  await typed('c')
  expect([asked.length, view.find('.faint').text()]).toEqual([0, 'none'])
  await view.find('input').trigger('keydown', { key: 'Escape' })
  expect(view.find('input').exists()).toBe(false)
})

async function line(props = {}) {
  const usual = {
    sound: 0,
    asProof: false,
    flagged: 0,
    elsewhere: 0,
    waiting: 2,
    canGoBack: false,
  }
  const cells = [cell(1), cell(2, '', { advice: ['long-stem'] })]
  const { view } = await shown(SummaryLine, { ...usual, reading: reading({ cells, expected: 3 }), ...props })
  const button = (words: string) => view.findAll('button').find((entry) => entry.text().includes(words))
  return { view, button }
}

it('says in a line what was read, and that it is not what was expected', async () => {
  const { view, button } = await line()
  expect(view.find('.signal').text()).toBe('3 expected')
  expect(view.text()).toContain('Nothing needs a look')
  expect(button('Advice')?.text()).toBe('Advice on 1')
  expect(button('Read it as before')).toBeUndefined()
})

it('counts what needs a look here first, then elsewhere', async () => {
  const { view, button } = await line({ flagged: 1, elsewhere: 4, canGoBack: true })
  expect(button('needs a look')?.text()).toContain('1 needs a look')
  expect(button('other sources')).toBeUndefined()
  await button('Read it as before')?.trigger('click')
  await view.setProps({ flagged: 0 })
  await button('4 in other sources')?.trigger('click')
  expect([view.emitted('back')?.length, view.emitted('next')?.length]).toEqual([1, 1])
})

it('takes what waits, and shows the reading as a proof', async () => {
  const { view, button } = await line()
  await button('Take 2')?.trigger('click')
  await button('As a proof')?.trigger('click')
  expect([view.emitted('take')?.length, view.emitted('update:asProof')]).toEqual([1, [[true]]])
  await view.setProps({ waiting: 0 })
  expect(nth(view.findAll('.take'), 0).attributes('disabled')).toBeDefined()
})

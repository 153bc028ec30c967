import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, it, vi } from 'vitest'

import { cell, nth, reading, shown, sure } from '@/testing'

import SourcePane from './SourcePane.vue'

const LINES = [
  { number: 1, text: '1. Which?', item: 1, role: 'stem', file: '', name: 'aa', html: '1. <strong>Which?</strong>' },
  { number: 2, text: 'a. clay', item: 1, role: 'choice ✓', file: '', name: 'bb', html: 'a. <mark>clay</mark>' },
  { number: 3, text: 'Harrow < Vale', item: null, role: 'outside', file: '', name: 'cc', html: '' },
]
const ANSWERS = {
  'GET /api/readings/5/lines': LINES,
  'POST /api/sources/3/read': { id: 'j', state: 'done', result: { reading: 6 } },
}

beforeEach(() => {
  vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(400)
  vi.spyOn(HTMLElement.prototype, 'clientWidth', 'get').mockReturnValue(400)
})

async function pane(fields = {}) {
  const props = { course: 1, reading: reading(fields), current: 1, first: 1, last: 2, lit: '' }
  const { view, asked } = await shown(SourcePane, props, { answers: ANSWERS })
  await flushPromises()
  return { view, asked }
}

it('shows a document as on its page, joined with the open item', async () => {
  const { view } = await pane()
  const lines = view.findAll('.line')
  expect(lines.map((line) => line.classes('joined'))).toEqual([true, true, false])
  expect(nth(lines, 0).find('strong').text()).toBe('Which?')
  expect(nth(lines, 1).find('mark').text()).toBe('clay')
  expect(nth(lines, 2).text()).toContain('Harrow < Vale')
  expect(nth(lines, 2).classes('loose')).toBe(true)
})

it('shows a text line by line, and opens it for correction', async () => {
  const { view } = await pane({ format: 'marked-text', is_text: true })
  expect(nth(view.findAll('.line'), 0).find('strong').exists()).toBe(false)
  const button = view.findAll('.head .link-button').find((entry) => entry.text().includes('Correct'))
  await sure(button).trigger('click')
  expect(view.emitted('correct')).toHaveLength(1)
})

it('picks the item that a line belongs to', async () => {
  const { view } = await pane()
  await nth(view.findAll('.line'), 1).trigger('click')
  await nth(view.findAll('.line'), 2).trigger('click')
  expect(view.emitted('pick')).toEqual([[1]])
})

it('says by hand what a line is, and reads again with that', async () => {
  const { view, asked } = await pane({ roles: { bb: 'stem' } })
  const role = view.find('select[aria-label="What line 3 is"]')
  expect(role.findAll('option')).toHaveLength(1)
  await role.trigger('focus')
  await role.setValue('aside')
  await flushPromises()
  const read = asked.find((call) => call.path === '/api/sources/3/read')
  expect(read?.body).toMatchObject({ options: { roles: { bb: 'stem', cc: 'aside' } } })
})

it('says where a source has no lines to show', async () => {
  const { view } = await pane({ lines: 0, format: 'items-json' })
  expect(view.text()).toContain('not shown line by line')
})

const PARTS = {
  parts: [
    { kind: 'stem', label: 'Stem', content: 'Which?', spans: [[2, 3]], field: 'stem', unclaimed: false },
    { kind: 'choice', label: 'Choice A', content: 'clay', spans: [[5, 5]], field: 'choice:1', unclaimed: false },
    { kind: 'marking', label: '', content: '', spans: [[8, 12]], field: 'marking', unclaimed: false },
    { kind: 'rest', label: '', content: 'Harrow Vale', spans: [], field: '', unclaimed: true },
  ],
  marks: [{ words: 'clay', share: 1 }],
  markup: '<item/>',
  first: 101,
}

it('shows the source of a package as its parts, with their places, and lights what the pointer is on', async () => {
  const props = {
    course: 1,
    reading: reading({ has_parts: true, cells: [cell(1)], format: 'qti-1.2', document: false }),
    current: 1,
    first: 101,
    last: 120,
    lit: 'choice:1',
  }
  const { view } = await shown(SourcePane, props, { answers: { 'GET /api/readings/5/items/1/parts': PARTS } })
  await flushPromises()
  expect(view.findAll('.parts h3').map((head) => head.text())).toEqual([
    'Stem',
    'Choices',
    'What its marking gives',
    'Besides',
  ])
  expect(view.find('.lit').text()).toContain('clay')
  expect(view.findAll('.place').map((place) => place.text())).toEqual(['lines 102–103', 'line 105', 'lines 108–112'])
  expect(view.find('.marks').text()).toContain('100 %')
  expect(view.find('.unclaimed').text()).toContain('nothing claimed this')
})

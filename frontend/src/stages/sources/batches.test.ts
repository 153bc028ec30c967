import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { finding, nth, shown, source, sure } from '@/testing'

import BatchRow from './BatchRow.vue'
import ChosenBar from './ChosenBar.vue'
import Comparison from './Comparison.vue'
import { grouped, saidOfAll, sums } from './grouped'
import TakeAllDialog from './TakeAllDialog.vue'

const batch = { id: 4, name: 'Ground Beneath' }
const odd = finding({
  code: 'points-odd',
  message: 'All 6 items have 100 points.',
  ways: [{ name: 'points-to-1', label: 'Set points to 1', for_all: true, marks: '' }],
})
const SOURCES = [
  source({ id: 1, batch, findings: [odd] }),
  source({ id: 2 }),
  source({ id: 3, batch, sound: 4, findings: [odd] }),
  source({ id: 5, aside: true }),
]

it('puts what was dropped together together, and what is set aside last', () => {
  const groups = grouped(SOURCES).map((group) => [group.batch?.name, group.aside, group.sources.map(({ id }) => id)])
  expect(groups).toEqual([
    ['Ground Beneath', false, [1, 3]],
    [undefined, false, [2]],
    [undefined, true, [5]],
  ])
  expect(sums(SOURCES.slice(0, 3))).toEqual({ items: 18, waiting: 18, sound: 16 })
  expect(saidOfAll(SOURCES).map((entry) => entry.sources)).toEqual([[1, 3]])
})

it('repairs what is said of all sources of a batch at once', async () => {
  const group = nth(grouped(SOURCES), 0)
  const answers = { 'POST /api/courses/1/repair': { count: 12 } }
  const { view, asked } = await shown(BatchRow, { group, course: 1 }, { answers })
  const button = view.findAll('button').find((entry) => entry.text().includes('on all items of 2 sources'))
  await sure(button).trigger('click')
  await flushPromises()
  expect(asked.find((call) => call.method === 'POST')?.body).toEqual({
    sources: [1, 3],
    code: 'points-odd',
    repair: 'points-to-1',
  })
})

it('takes several sources as one, after it has said what that makes', async () => {
  const foreseen = {
    pools: [
      { path: ['Chapter 1'], items: 5, sources: ['a.zip'], new: true },
      { path: ['Chapter 2'], items: 4, sources: ['b.zip'], new: true },
    ],
    items: 9,
    sources: 2,
    stays: 1,
    notes: [],
  }
  const answers = { 'POST /api/courses/1/take/preview': foreseen, 'POST /api/courses/1/take': { id: 'j' } }
  const { view, asked } = await shown(
    TakeAllDialog,
    { modelValue: true, course: 1, sources: [1, 3], sound: 4, waiting: 6 },
    { answers },
  )
  await flushPromises()
  const dialog = sure(document.querySelector('.el-dialog'))
  expect(dialog.textContent).toContain('1 item stays in Check.')
  const take = [...dialog.querySelectorAll('button')].find((entry) =>
    entry.textContent?.includes('Take 9 sound items of 2 sources into 2 pools'),
  )
  sure(take).click()
  await flushPromises()
  expect(asked.at(-1)).toMatchObject({ path: '/api/courses/1/take', body: { sources: [1, 3], which: 'sound' } })
  expect(view.emitted('done')).toHaveLength(1)
})

it('compares two, and offers it for two alone', async () => {
  const two = await shown(
    ChosenBar,
    { course: 1, chosen: SOURCES.slice(0, 2) },
    { answers: { 'POST /api/courses/1/compare': { id: 'j', state: 'waiting' } } },
  )
  await sure(two.view.findAll('button').find((entry) => entry.text() === 'Compare')).trigger('click')
  await flushPromises()
  expect(two.asked.find((call) => call.method === 'POST')?.body).toEqual({ a: 1, b: 2 })
  const three = await shown(ChosenBar, { course: 1, chosen: SOURCES.slice(0, 3) })
  expect(three.view.text()).not.toContain('Compare')
})

it('says which arrived more whole and in what, and goes on with one', async () => {
  const side = (name: string, id: number) => ({
    source: id,
    reading: id,
    name,
    format: 'qti-1.2',
    items: 4,
    aside: false,
  })
  const whole = {
    more: 'b',
    aspects: [
      { name: 'feedback texts', a: 0, b: 4, more: 'b' },
      { name: 'items', a: 4, b: 4, more: 'even' },
    ],
  }
  const ledger = {
    items: [{ a: '1', b: '1', title: 'Which?', facets: { feedback: 'lost' }, notes: [] }],
    only_in_a: [],
    only_in_b: [],
    totals: {},
    quizzes: [],
    quiz_totals: {},
    whole,
  }
  const answers = {
    'GET /api/comparisons/8': { id: 8, a: side('a.zip', 1), b: side('b.zip', 2), ledger },
    'POST /api/comparisons/8/go-on': side('b.zip', 2),
  }
  const { view, asked } = await shown(Comparison, {}, { at: '/c/1/compare/8', answers })
  expect(view.find('h1').text()).toBe('b.zip arrived more whole')
  expect(view.findAll('.sides tbody th').map((head) => head.text())).toEqual(['feedback texts', 'the rest is even'])
  await nth(view.findAll('.sides button'), 1).trigger('click')
  await flushPromises()
  expect(asked.find((call) => call.method === 'POST')?.body).toEqual({ side: 'b' })
})

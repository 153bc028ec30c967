import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { finding, item, nth, reading, shown, source, sure } from '@/testing'
import { handleKey } from '@/ui/shortcuts'

import Check from './Check.vue'
import CheckList from './CheckList.vue'

const cell = (position: number, worst = '', fields = {}) => ({
  position,
  type: 'essay',
  text: `Question ${position}`,
  worst,
  needs_look: ['error', 'warning'].includes(worst),
  taken: false,
  dropped: false,
  codes: worst ? ['two-keys'] : [],
  first: null,
  last: null,
  ...fields,
})
const read = (position: number, findings: unknown[] = []) => ({
  position,
  item: item({ type: 'essay', stem: `Question ${position}` }),
  path: ['Texture'],
  where: `line ${position * 10}`,
  first: null,
  last: null,
  findings,
  stimulus: null,
  taken: null,
  dropped: false,
  edited: false,
})
const MENDABLE = finding({
  code: 'two-keys',
  repair: 'to-multiple-response',
  repair_label: 'Make it multiple response',
})
const CELLS = [cell(1), cell(2, 'error'), cell(3), cell(4, 'warning')]
const ANSWERS = {
  'GET /api/readings/5': reading({ cells: CELLS as never, lines: 0, expected: 5, format: 'items-json' }),
  'GET /api/readings/5/items/1': read(1),
  'GET /api/readings/5/items/2': read(2, [MENDABLE]),
  'GET /api/readings/5/items/4': read(4, [finding({ level: 'warning' })]),
  'POST /api/readings/5/repair': { count: 2 },
  'POST /api/readings/5/dismiss': { count: 1 },
  'POST /api/readings/5/drop': { count: 1 },
  'PUT /api/readings/5/items/2': read(2),
}
const press = async (key: string) => {
  handleKey(new KeyboardEvent('keydown', { key }))
  await flushPromises()
}

async function check(at = '/c/1/check/5', answers: Record<string, unknown> = ANSWERS) {
  const { view, asked } = await shown(Check, {}, { at, answers })
  const posted = () =>
    asked.filter((call) => call.method !== 'GET').map(({ path, body }) => [path.split('/').pop(), body])
  return { view, posted, heading: () => view.find('.where span').text() }
}

it('sums a reading up: what was found, what was expected, what needs a look', async () => {
  const { view } = await check()
  const text = view.find('.summary').text().replace(/\s+/g, ' ')
  for (const part of ['4 found', '5 expected', '2 need a look', 'Take 4 into pools']) expect(text).toContain(part)
})

it('steps through what needs a look, forwards, back and round', async () => {
  const { heading } = await check()
  expect(heading()).toContain('Item 1 of 4')
  for (const [key, at] of [
    ['n', 2],
    ['n', 4],
    ['n', 2],
    ['b', 4],
    ['ArrowUp', 3],
  ] as const) {
    await press(key)
    if (at !== 3) expect(heading()).toContain(`Item ${at} of 4 · line ${at * 10}`)
  }
})

it('repairs this item by a small letter and all that have it by a capital', async () => {
  const { posted } = await check('/c/1/check/5?item=2')
  await press('r')
  await press('R')
  await press('d')
  await press('x')
  const wanted = { code: 'two-keys', repair: 'to-multiple-response' }
  expect(posted()).toEqual([
    ['repair', { ...wanted, positions: [2] }],
    ['repair', { ...wanted, positions: null }],
    ['dismiss', { code: 'two-keys', positions: [2] }],
    ['drop', { positions: [2], dropped: true }],
  ])
})

it('edits an item and saves it', async () => {
  const { view, posted } = await check('/c/1/check/5?item=2')
  await press('e')
  await view.find('input[aria-label="Points"]').setValue('3')
  await view.find('form.editor').trigger('submit')
  await flushPromises()
  expect(nth(posted(), 0)).toMatchObject(['2', { item: { points: 3 } }])
  expect(view.find('form.editor').exists()).toBe(false)
})

it('says what is wrong with the source as a whole, and that a reading is not there', async () => {
  const findings = [
    finding({ code: 'count-differs', message: '5 items were expected.' }),
    finding({ level: 'note', message: 'A note.' }),
  ]
  const { view } = await check('/c/1/check/5', {
    ...ANSWERS,
    'GET /api/readings/5': reading({ findings, cells: [], lines: 0 }),
  })
  expect(view.findAll('.bank-findings li').map((entry) => entry.find('strong').text())).toEqual([
    '5 items were expected.',
  ])
  expect(view.text()).toContain('No item was found')
  const { view: gone } = await check('/c/1/check/5', {})
  expect(gone.find('[role=alert]').text()).toContain('All readings')
})

it('lists what waits to be checked, and what was taken', async () => {
  const sources = [
    source({ worst: { error: 2, warning: 1 } }),
    source({ id: 9, name: 'old.zip', waiting: 0, reading: 8 }),
  ]
  const { view } = await shown(CheckList, {}, { at: '/c/1/check', answers: { 'GET /api/courses/1/sources': sources } })
  const [waiting, taken] = [nth(view.findAll('ul'), 0).text(), nth(view.findAll('ul'), 1).text()]
  expect(waiting.replace(/\s+/g, ' ')).toContain(
    'week-2.docx6 items to check, Word document2 with errors1 with warnings',
  )
  expect(taken).toContain('old.zip')
  const { view: none } = await shown(CheckList, {}, { answers: { 'GET /api/courses/1/sources': [] } })
  expect(sure(none.find('a')).attributes('href')).toBe('/c/1/sources')
})

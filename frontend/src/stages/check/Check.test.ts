import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import type { Schemas } from '@/api/client'
import { cell, finding, nth, reading, readItem, shown, source, sure } from '@/testing'
import { handleKey } from '@/ui/shortcuts'

import Check from './Check.vue'
import CheckList from './CheckList.vue'

const read = (position: number, findings: Schemas['ReadFinding'][] = []) => readItem(position, { findings })
const MENDABLE = finding({
  code: 'two-keys',
  repair: 'to-multiple-response',
  repair_label: 'Make it multiple response',
  ways: [
    { name: 'only-1', label: 'Only A', for_all: false, marks: '' },
    { name: 'to-multiple-response', label: 'Both: multiple response', for_all: true, marks: '' },
  ],
})
const CELLS = [cell(1), cell(2, 'error'), cell(3), cell(4, 'warning')]
const ANSWERS = {
  'GET /api/readings/5': reading({ cells: CELLS as never, lines: 0, expected: 5, format: 'items-json' }),
  'GET /api/readings/5/items/1': read(1),
  'GET /api/readings/5/items/2': read(2, [MENDABLE]),
  'GET /api/readings/5/items/4': read(4, [finding({ level: 'warning' })]),
  'GET /api/courses/1': {
    role: 'owner',
    id: 1,
    name: 'Soils',
    waiting: {},
    outcomes: [{ code: '2.1', text: 'Texture' }],
    advice_off: [],
  },
  'GET /api/courses/1/sources': [source()],
  'GET /api/courses/1/look': [{ reading: 5, source: 'week-2.docx', positions: [2, 4] }],
  'POST /api/item-check': { findings: [], advice: [] },
  'POST /api/readings/5/items/2/decide': readItem(2, { cell: cell(2, '', { edited: true }), edited: true }),
  'POST /api/readings/5/repair': { count: 2 },
  'POST /api/readings/5/dismiss': { count: 1 },
  'POST /api/readings/5/drop': { count: 1 },
  'PUT /api/readings/5/items/2': read(2),
}
/** The editor comes with a load of its own. */
const loaded = async () => {
  await vi.dynamicImportSettled()
  await flushPromises()
}
const press = async (key: string) => {
  handleKey(new KeyboardEvent('keydown', { key }))
  await flushPromises()
}

async function check(at = '/c/1/check/5', answers: Record<string, unknown> = ANSWERS) {
  const { view, asked } = await shown(Check, {}, { at, answers })
  const posted = () =>
    asked.filter((call) => call.method !== 'GET').map(({ path, body }) => [path.split('/').pop(), body])
  return {
    view,
    posted,
    heading: () =>
      view
        .find('.where span')
        .text()
        .replace(/ · \d+ of \d+ to look at/, ''),
  }
}

it('sums a reading up: what was found, what was expected, what needs a look', async () => {
  const { view } = await check()
  const text = () => view.find('.summary').text().replace(/\s+/g, ' ')
  await vi.waitFor(() => expect(text()).toContain('Take 2 of 4 into pools'))
  for (const part of ['4 found', '5 expected', '2 need a look']) expect(text()).toContain(part)
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
  await loaded()
  await view.find('input[aria-label="Points"]').setValue('3')
  await view.find('form.editor').trigger('submit')
  await flushPromises()
  expect(posted().find(([path]) => path === '2')).toMatchObject(['2', { item: { points: 3 } }])
  expect(view.find('form.editor').exists()).toBe(false)
})

it('decides by one key and shows it at once, in the strip too', async () => {
  const { view, posted } = await check('/c/1/check/5?item=2')
  expect(view.find('.where span').text()).toContain('1 of 2 to look at')
  await press('2')
  await press('f')
  expect(posted()).toEqual([
    ['decide', { decision: { kind: 'key', choice: 2 } }],
    ['decide', { decision: { kind: 'paper' } }],
  ])
  expect(nth(view.findAll('.strip button'), 1).classes()).toContain('sound')
  expect(view.find('.where').text()).toContain('edited')
  await press('u')
  expect(view.findAll('[role=option]').map((option) => option.text())).toEqual(['2.1 Texture'])
  await view.find('[role=combobox]').trigger('keydown', { key: 'Enter' })
  await flushPromises()
  expect(nth(posted(), -1)).toEqual(['decide', { decision: { kind: 'outcome', code: '2.1' } }])
})

it('goes through a sample by two keys and says what it proves', async () => {
  const sound = [cell(1), cell(2), cell(3)]
  const drawn = {
    seed: 7,
    of: 3,
    drawn: [2, 1],
    verdicts: {},
    looked: 0,
    wrong: 0,
    most: 3,
    next: 2,
    words: '0 of 3 looked at',
  }
  const then = { ...drawn, verdicts: { 2: true }, looked: 1, next: 1, words: '1 of 3 looked at, none wrong' }
  const { view, posted, heading } = await check('/c/1/check/5', {
    ...ANSWERS,
    'GET /api/readings/5': reading({ cells: sound, lines: 0 }),
    'GET /api/courses/1/look': [],
    'POST /api/readings/5/sample': drawn,
    'PUT /api/readings/5/sample/2': then,
  })
  expect(view.find('.sample').text()).toContain('Look at 3 of 3')
  await press('s')
  expect(heading()).toContain('Item 2 of 3')
  await press('+')
  expect(posted()).toEqual([
    ['sample', { count: 3 }],
    ['2', { right: true }],
  ])
  expect(heading()).toContain('Item 1 of 3')
  expect(view.find('.sample').text()).toContain('1 of 3 looked at, none wrong')
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

it('goes to the reading that has taken the place of this one, when nothing is being typed', async () => {
  let newer: number | null = null
  const answers = {
    ...ANSWERS,
    'GET /api/readings/5': () => reading({ cells: CELLS as never, lines: 0, newer }),
    'GET /api/readings/6': reading({ id: 6, cells: CELLS as never, lines: 0, expected: 7 }),
    'GET /api/readings/6/items/2': read(2),
    'PUT /api/readings/5/items/2': () => {
      newer = 6
      return new Response(JSON.stringify({ fact: 'The source was read again.', way_out: 'Do it there.' }), {
        status: 409,
        headers: { 'Content-Type': 'application/json' },
      })
    },
  }
  const { view } = await check('/c/1/check/5?item=2', answers)
  await press('e')
  await loaded()
  await view.find('form.editor').trigger('submit')
  await flushPromises()
  expect(view.find('form.editor').exists()).toBe(true)
  expect(view.find('.summary').text()).not.toContain('7 expected')
  await press('Escape')
  await vi.waitFor(() => expect(view.find('.summary').text()).toContain('7 expected'))
  expect(view.find('.where span').text()).toContain('Item 2 of 4')
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

import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, it, vi } from 'vitest'

import { item, nth, shown, sure } from '@/testing'
import { said } from '@/ui/say'
import { handleKey } from '@/ui/shortcuts'

import Alike from './Alike.vue'
import ItemPage from './ItemPage.vue'
import SendDialog from './SendDialog.vue'
import Sorting from './Sorting.vue'
import SplitDialog from './SplitDialog.vue'
import SubsetDialog from './SubsetDialog.vue'

const press = async (key: string) => {
  handleKey(new KeyboardEvent('keydown', { key }))
  await flushPromises()
}
const button = (words: string) =>
  sure([...document.querySelectorAll('button')].find((entry) => entry.textContent.replace(/\s+/g, ' ').includes(words)))
const pool = (id: number, name: string, parent: number | null) => ({ id, name, parent, items: 3, version: 'v' })
const POOLS = [pool(1, 'Mixed', null), pool(2, 'Texture', 1), pool(3, 'Water', 1), pool(4, 'Else', null)]
const out = (id: number, stem: string) => ({
  id,
  pool: 1,
  path: ['Mixed'],
  origin: '',
  item: item({ type: 'essay', stem }),
  stimulus: null,
  findings: [],
  version: 'v',
})
const step = (id: number, left: number, suggested: number) => ({
  item: out(id, `Question ${id}`),
  left,
  skipped: 0,
  suggestions: [{ pool: suggested, share: 0.8, words: ['clay', 'silt'] }],
})
beforeEach(() => localStorage.clear())

async function sorting() {
  return shown(Sorting, {}, {
    at: '/c/1/sorting/1',
    answers: {
      'GET /api/courses/1/pools': POOLS,
      'POST /api/sorting/next': step(11, 23, 3),
      'POST /api/sorting/send': { ...step(12, 22, 2), sent: 9 },
      'POST /api/operations/9/undo': { id: 9, label: 'Sorted “Question 11” into Water', created: '', undone: true },
    },
  }) // prettier-ignore
}

it('gives the pools below a key each, suggests one with its words, and sends by one key', async () => {
  const { view, asked } = await sorting()
  expect(view.findAll('.hand').map((hand) => hand.text())).toEqual(['1Texture3', '2Water3'])
  expect(view.find('li.best').text()).toContain('Suggested Enter, for clay, silt')
  expect(view.find('.one').text()).toContain('23 items left')
  await press('Enter')
  expect(asked.filter((call) => call.path === '/api/sorting/send').map((call) => call.body)).toEqual([
    { pool: 1, pools: [2, 3], skipped: [], item: 11, to: 3 },
  ])
  expect(view.find('.one').text()).toContain('22 items left, 1 sorted')
  await press('2')
  expect(asked.filter((call) => call.path === '/api/sorting/send').at(-1)?.body).toMatchObject({ item: 12, to: 3 })
})

it('skips an item, which comes last, and undoes the last one', async () => {
  const { asked, view } = await sorting()
  await press('s')
  expect(asked.filter((call) => call.path === '/api/sorting/next').at(-1)?.body).toMatchObject({ skipped: [11] })
  expect(view.find('.one').text()).toContain('1 skipped')
  await press('u')
  expect(said.value?.text).toBe('Nothing was sent in this sorting yet.')
  await press('1')
  expect(view.find('.one').text()).toContain('1 sorted')
  await press('u')
  await vi.waitFor(() => expect(said.value?.text).toContain('Undone: Sorted'))
  expect(view.find('.one').text()).not.toContain('sorted')
})

it('puts a pool out of reach and remembers which are at hand', async () => {
  const { view } = await sorting()
  await view.find('button[aria-label="Put Texture out of reach"]').trigger('click')
  expect(view.findAll('.hand').map((hand) => hand.text())).toEqual(['1Water3'])
  expect(JSON.parse(sure(localStorage.getItem('rogatum-at-hand')))).toEqual({ '1': [3] })
})

const side = (id: number, course: string, editable = true) => ({
  id,
  course: 1,
  course_name: course,
  owner: 'mara',
  path: ['Texture'],
  quizzes: id === 21 ? ['Week 1'] : [],
  editable,
  item: item({ type: 'essay', stem: 'Which?' }),
  stimulus: null,
  origin: 'a.zip',
  updated: '2026-11-01T10:00:00Z',
})
const row = (id: number) => ({ id, percent: 91, text: `Pair ${id}`, courses: ['Soil Science 110'], decision: '' })
const PAIR = {
  id: 7,
  percent: 91,
  decision: '',
  a: side(21, 'Soil Science 110'),
  b: side(22, 'Soil Science 110'),
  lines: [
    { label: 'Stem', a: [{ text: 'Which ', differs: false }, { text: 'one', differs: true }], b: [{ text: 'Which ', differs: false }] },
    { label: 'Points', a: [{ text: '1', differs: false }], b: [{ text: '1', differs: false }] },
  ],
  into_a: ['feedback'],
  into_b: [],
  changes: { a: [1], b: [1], both: [], 'merge-a': [1], 'merge-b': [1] },
} // prettier-ignore

async function alike(pair: unknown = PAIR) {
  return shown(Alike, {}, {
    at: '/c/1/alike/7',
    answers: {
      'GET /api/alike': { total: 2, open: 2, rows: [row(7), row(8)], looked: '2026-11-01T10:00:00Z', running: false },
      'GET /api/alike/7': pair,
      'GET /api/alike/8': pair,
      'POST /api/alike/7': { words: 'Kept one. It took over feedback.', next: 8 },
    },
  }) // prettier-ignore
}

it('shows both of a pair with what differs, where they lie and what uses them', async () => {
  const { view } = await alike()
  expect(view.findAll('mark').map((mark) => mark.text())).toEqual(['one'])
  expect(view.findAll('.where').map((where) => where.text())).toEqual([
    'Soil Science 110: Texture',
    'Soil Science 110: Texture',
  ])
  expect(view.find('.sides').text()).toContain('In Week 1')
  expect(view.find('.decide').text()).toContain('It would take over feedback.')
})

it.each([
  ['l', 'a'],
  ['r', 'b'],
  ['b', 'both'],
  ['L', 'merge-a'],
  ['R', 'merge-b'],
])('decides by the key %s', async (key, decision) => {
  const { asked } = await alike()
  await press(key)
  expect(asked.find((call) => call.method === 'POST')?.body).toEqual({ decision })
  expect(said.value?.text).toContain('Kept one.')
})

it('lists more pairs where there are more', async () => {
  const { view } = await alike()
  expect(view.find('.rest').exists()).toBe(false)
  const many = { total: 900, open: 900, rows: [row(7)], looked: '2026-11-01T10:00:00Z', running: false }
  const { view: long } = await shown(Alike, {}, {
    at: '/c/1/alike/7',
    answers: { 'GET /api/alike': many, 'GET /api/alike/7': PAIR },
  }) // prettier-ignore
  expect(long.find('.rest').text()).toContain('899 more, less alike')
  for (let more = 400; more <= 1000; more += 200) {
    await long.find('.rest button').trigger('click')
    await flushPromises()
  }
  expect(long.find('.rest button').exists()).toBe(false)
})

it('lets nobody drop what they may only read', async () => {
  const { asked } = await alike({ ...PAIR, b: side(22, 'Field Methods 210', false) })
  for (const key of ['l', 'L', 'R']) await press(key)
  expect(asked.filter((call) => call.method === 'POST')).toEqual([])
  expect(document.body.textContent).toContain('this one stays')
})

it('says which other course a decision changes, before it is made', async () => {
  const other = { ...side(22, 'Field Methods 210'), course: 2 }
  const changes = { a: [2], b: [1], both: [], 'merge-a': [2, 1], 'merge-b': [1, 2] }
  const { view } = await alike({ ...PAIR, b: other, changes })
  const told = view.findAll('.elsewhere').map((entry) => entry.text())
  expect(told).toEqual([
    'Keep left deletes the other one in Field Methods 210.',
    'Merging changes Field Methods 210.',
    'Merging changes Field Methods 210.',
  ])
})

const PAGE = {
  item: out(21, 'Which?'),
  course: 1,
  course_name: 'Soil Science 110',
  owner: 'mara',
  editable: true,
  advice: [],
  came_from: { origin: 'a.zip, item 2', source: 'a.zip', reading: 5, position: 2 },
  used: [{ quiz: 3, title: 'Week 1', how: 'drawn' }],
  handed: null,
  updated: '2026-11-01T10:00:00Z',
  alike: [row(7)],
  versions: [
    { operation: 4, label: 'Edited', by: 'tobin', created: '2026-11-01T10:00:00Z', undone: false, lines: PAIR.lines.slice(0, 1), moved: '', restorable: true },
    { operation: 3, label: 'Moved', by: 'mara', created: '2026-10-01T10:00:00Z', undone: true, lines: [], moved: 'A → B', restorable: false },
  ],
} // prettier-ignore

it('tells all that is known of an item, and brings a version back', async () => {
  const { view, asked } = await shown(ItemPage, {}, {
    at: '/c/1/items/21',
    answers: { 'GET /api/items/21/page': PAGE, 'POST /api/items/21/versions/4': PAGE.item },
  }) // prettier-ignore
  const text = view.text().replace(/\s+/g, ' ')
  for (const part of ['mara’s', 'a.zip, item 2', 'Week 1, among those drawn from', 'Not handed on yet', 'Pair 7', 'A → B', 'Moved, undone'])
    expect(text).toContain(part) // prettier-ignore
  expect(view.find('.content a').attributes('href')).toBe('/c/1/pools?pool=1&item=21')
  await sure(view.findAll('button').find((entry) => entry.text().startsWith('What changed: Stem'))).trigger('click')
  expect(view.find('del').text()).toBe('one')
  await sure(view.findAll('button').find((entry) => entry.text() === 'Bring back as before this')).trigger('click')
  await flushPromises()
  expect(asked.some((call) => call.path === '/api/items/21/versions/4')).toBe(true)
})

const GROUPS = [
  { name: 'Clay', words: ['clay', 'silt'], items: [1, 2, 3], examples: [{ id: 1, text: 'Which clay?' }] },
  { name: 'Water', words: ['rain'], items: [4, 5], examples: [{ id: 4, text: 'Which rain?' }] },
  { name: '', words: [], items: [6], examples: [] },
]

it('proposes groups, which are merged, named and left out before they become pools', async () => {
  const props = { modelValue: true, said: '6 items', selection: {}, course: 1, below: 9 }
  const { asked, view } = await shown(SplitDialog, props, {
    answers: { 'POST /api/courses/1/split/preview': GROUPS, 'POST /api/courses/1/split': { count: 3 } },
  })
  await flushPromises()
  expect(button('Make 3 pools of 6 items')).toBeTruthy()
  const outs = () => [...document.querySelectorAll('button')].filter((entry) => entry.textContent.includes('Leave out'))
  nth(outs(), 2).click()
  await flushPromises()
  nth(
    [...document.querySelectorAll('button')].filter((entry) => entry.textContent.includes('Merge with')),
    0,
  ).click()
  await flushPromises()
  button('Make 1 pool of 5 items').click()
  await flushPromises()
  expect(asked.at(-1)?.body).toEqual({ below: 9, pools: [{ name: 'Clay', items: [1, 2, 3, 4, 5] }] })
  expect(view.emitted('done')).toHaveLength(1)
})

const OFFERED = 'Offered 4 items to tobin, ines; Sources shows what becomes of it.'

it.each([
  [[], `Copied 4 items into a course. ${OFFERED}`],
  [['j'], `Copying 4 items into a course; it shows how far. ${OFFERED}`],
])('sends a copy to colleagues and into courses, at once or by jobs %j', async (jobs, words) => {
  const courses = [
    { id: 1, name: 'Soil', owner: 'mara', role: 'owner', shared: 0 },
    { id: 2, name: 'Field', owner: 'mara', role: 'owner', shared: 0 },
    { id: 3, name: 'Read', owner: 'tobin', role: 'reader', shared: 1 },
  ]
  const props = { modelValue: true, course: 1, pools: [{ id: 5, name: 'Texture' }], mayEdit: true }
  const { asked } = await shown(SendDialog, props, {
    answers: {
      'GET /api/courses': courses,
      'POST /api/courses/1/pools/send': { items: 4, courses: 1, offers: 2, jobs },
    },
  })
  const dialog = sure(document.querySelector('.el-dialog'))
  expect(dialog.textContent).toContain('Field')
  expect(dialog.textContent).not.toContain('Read')
  const field = sure(dialog.querySelector<HTMLInputElement>('#send-people'))
  field.value = 'tobin, ines'
  field.dispatchEvent(new Event('input'))
  sure(dialog.querySelector<HTMLInputElement>('input[type=checkbox]')).click()
  await flushPromises()
  sure(dialog.querySelector<HTMLButtonElement>('.el-dialog__footer button')).click()
  await flushPromises()
  const sent = sure(asked.find((call) => call.method === 'POST'))
  expect(sent.body).toEqual({ pools: [5], courses: [2], people: ['tobin', 'ines'], note: '' })
  expect(said.value?.text).toBe(words)
})

it('makes a choice by chance the selection, and goes on with it', async () => {
  const props = { modelValue: true, said: 'all 70 that match', selection: {}, course: 1 }
  const { view, asked } = await shown(SubsetDialog, props, {
    answers: { 'POST /api/courses/1/items/subset': { ids: [4, 9], seed: 17, of: 70 } },
  })
  button('Into a quiz').click()
  await flushPromises()
  expect(asked.at(-1)?.body).toEqual({ selection: {}, count: 10, seed: null, spread: '' })
  expect(view.emitted('chosen')).toEqual([[[4, 9], 'quiz']])
  expect(said.value?.text).toBe('2 of 70 by chance, seed 17.')
})

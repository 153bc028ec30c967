import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, it, vi } from 'vitest'

import { COURSE, nth, shown, sure } from '@/testing'

import HandOffs from './HandOffs.vue'
import Ledger from './Ledger.vue'
import Pair from './Pair.vue'
import Receivers from './Receivers.vue'
import { codesOf, scopeOf } from './scopes'
import { at, having, type Sheet } from './sentences'

const words = (text: string) => text.replace(/\s+/g, ' ')
const totals = { same: 2, added: 1, recast: 0, changed: 1, lost: 0, refused: 2 }
const line = {
  key: 'board',
  title: 'A live quiz board',
  kind: 'live quiz board',
  format: 'sheet',
  label: 'Sheet',
  because: 'The only format that it takes.',
  totals,
  for_students: totals,
  for_you: { ...totals, changed: 0, same: 3 },
  files: 1,
  worded: 0,
  facets: { key: { same: 3, changed: 1 }, stem: { same: 4 } },
  quizzes: [],
  formats: [{ name: 'sheet', label: 'Sheet' }],
}
const SHEET = {
  name: 'ours',
  version: 2,
  title: 'Ours',
  kind: 'course platform',
  about: 'It is ours.',
  formats: [{ name: 'gift', note: '' }],
  types: { numeric: 'refuses' },
  content: { formatting: 'takes', formulas: 'as they are', pictures: 'takes', alternative_texts: 'takes' },
  limits: { stem: null, choice: null, choices: null, pictures: null, items_per_file: null, file_bytes: null },
  feedback: { takes: ['general'], model_answers: 'takes' },
  quiz: { settings: [] },
  steps: ['One.', 'Two.', 'Three.'],
}
const own = {
  key: 'own-4',
  id: 4,
  title: 'Ours',
  kind: 'course platform',
  about: '',
  formats: ['gift'],
  version: 2,
  sheet: SHEET,
}
const shipped = { ...own, key: 'board', id: null, title: 'A live quiz board', version: 1 }
const FORMATS = [{ name: 'gift', label: 'GIFT', write: true, copies: [], lacks: [], settings_lacking: [] }]
const lines = (...said: unknown[]) =>
  new Response(said.map((entry) => JSON.stringify(entry)).join('\n'), {
    headers: { 'Content-Type': 'application/x-ndjson' },
  })
const LISTS = {
  'GET /api/formats': FORMATS,
  'GET /api/receivers': [own, shipped],
  'GET /api/courses/1/pools': [{ id: 2, name: 'Texture', parent: null, items: 9 }],
  'GET /api/courses/1/quizzes': [],
  'GET /api/courses/1/handoffs': [],
  'GET /api/courses/1/jobs': [],
  'POST /api/courses/1/forecast': () => lines({ title: 'Texture', items: 6, receivers: 2 }, line),
  'POST /api/courses/1/hand-on': { id: 'j', state: 'waiting' },
  'POST /api/receivers/check': { problems: [], sheet: SHEET },
}

beforeEach(() => {
  localStorage.clear()
  vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(400)
})

it('shows each receiver as soon as it is known, and the others as being worked out', async () => {
  const { view } = await shown(HandOffs, {}, { at: '/c/1/hand-off?pool=2', answers: LISTS })
  const rows = view.findAll('.side tbody tr')
  expect(words(nth(rows, 0).text())).toContain('working it out')
  expect(words(nth(rows, 1).text())).toContain('Sheet The only format that it takes.')
  expect(nth(rows, 1).text()).toContain('Different for students: key of 1')
  expect(nth(rows, 1).find('.refused').text()).toContain('2 refused')
  expect(nth(rows, 1).find('.look a').attributes('href')).toBe('/c/1/hand-off/forecast?what=pool-2&receiver=board')
})

it('hands on to all receivers that are ticked in one go, and remembers them', async () => {
  const { view, asked } = await shown(HandOffs, {}, { at: '/c/1/hand-off?pool=2', answers: LISTS })
  for (const box of view.findAll('.side input')) await box.setValue(true)
  await sure(view.findAll('button').find((button) => button.text() === 'Hand on to these 2 receivers')).trigger('click')
  await flushPromises()
  const { body } = sure(asked.find((call) => call.path.endsWith('/hand-on')))
  expect(body).toMatchObject({ receivers: [{ receiver: 'own-4' }, { receiver: 'board' }], sections: [] })
  expect(JSON.parse(localStorage.getItem('rogatum-receivers-of-1') ?? '[]')).toEqual(['own-4', 'board'])
})

it('says that the forecast did not come, and asks again', async () => {
  const answers = { ...LISTS, 'POST /api/courses/1/forecast': () => new Response('{"fact":"No."}', { status: 500 }) }
  const { view, asked } = await shown(HandOffs, {}, { at: '/c/1/hand-off', answers })
  await sure(view.findAll('button').find((button) => button.text() === 'Ask again')).trigger('click')
  expect(asked.filter((call) => call.path.endsWith('/forecast'))).toHaveLength(2)
})

it('reads from an address what is handed on', () => {
  expect(codesOf({ what: 'pool-2 quiz-3' }, false)).toEqual(['pool-2', 'quiz-3'])
  expect(codesOf({ quiz: '3' }, false)).toEqual(['quiz-3'])
  expect(codesOf({ selected: '1' }, false)).toEqual(['all'])
  expect(scopeOf('items-4,5').selection).toMatchObject({ ids: [4, 5], all_matching: false })
})

it('sets a limit that has a number, and none where the number goes', () => {
  const sheet = having(SHEET as Sheet, 'limits.stem.most', 80)
  expect(at(sheet, 'limits.stem.most')).toBe(80)
  expect(at(having(sheet, 'limits.stem.most', null), 'limits.stem')).toBeNull()
  expect(at(having(sheet, 'limits.pictures.bytes', null), 'limits.pictures')).toBeNull()
})

it('tells a sheet of ones own in sentences, and keeps what was changed', async () => {
  const answers = { ...LISTS, 'PUT /api/receivers/4': own }
  const { view, asked } = await shown(Receivers, {}, { at: '/c/1/hand-off/receivers/own-4', answers })
  expect(words(view.find('.sheet').text())).toContain('Formulas are shown')
  await view.find('[aria-label="Formulas"]').setValue('pictures')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(sure(asked.find((call) => call.method === 'PUT')).body).toMatchObject({
    sheet: { content: { formulas: 'pictures' } },
  })
})

it('lets sheets that ship be copied alone', async () => {
  const { view } = await shown(Receivers, {}, { at: '/c/1/hand-off/receivers/board', answers: LISTS })
  expect(view.find('fieldset').attributes()).toHaveProperty('disabled')
  expect(view.text()).toContain('copy it to write it otherwise')
})

const HANDED = {
  id: 8,
  title: 'Texture',
  format: 'sheet',
  label: 'Sheet',
  items: 4,
  size: 5000,
  created: '2026-09-01T10:00:00Z',
  totals: { same: 3, recast: 0, changed: 1, lost: 0, added: 0 },
  for_students: { same: 3, recast: 0, changed: 1, lost: 0, added: 0 },
  for_you: { same: 4, recast: 0, changed: 0, lost: 0, added: 0 },
  sound: false,
  file_name: 'w.zip',
  receiver: 'board',
  receiver_title: 'A live quiz board',
  can_be_sent: true,
  repairs: { '2': ['Turn it into a fill-in'] },
  steps: ['Make a new quiz.'],
  since: { words: '1 item changed', changed: [5], new: [6], gone: 0 },
  arrived: null,
  ledger: { items: [], only_in_a: [], only_in_b: [], totals: {}, quizzes: [] },
}

it('says what changed since, and hands on only that', async () => {
  const { view } = await shown(Ledger, {}, { at: '/c/1/hand-off/8', answers: { 'GET /api/handoffs/8': HANDED } })
  expect(words(view.find('.since').text())).toContain('Since you handed it on, 1 item changed. Hand on only these 2')
  expect(view.find('.since a').attributes('href')).toBe('/c/1/hand-off?what=items-5,6')
  expect(words(view.find('header').text())).toContain('1 item changed for it')
})

it('sends it to the stand-in, and says where that is otherwise than forecast', async () => {
  const otherwise = [{ title: 'Second', facet: 'key', forecast: 'same', became: 'lost' }]
  const arrived = { ledger: HANDED.ledger, report: ['3 questions taken.', '1. First'], otherwise }
  const answers = {
    'GET /api/handoffs/8': HANDED,
    'POST /api/handoffs/8/send': { ...HANDED, arrived, as_forecast: false },
  }
  const { view } = await shown(Ledger, {}, { at: '/c/1/hand-off/8', answers })
  await sure(view.findAll('button').find((button) => button.text().startsWith('Send it'))).trigger('click')
  await flushPromises()
  expect(words(view.find('.sides').text())).toContain('1 otherwise than forecast')
  expect(words(view.find('.arrived').text())).toContain('Secondkeyforecast same, became lost')
})

const rowOf = (id: number, more = {}) => ({ ...HANDED, id, title: `Hand-off ${id}`, group: 'g', repaired: 0, ...more })

it('shows what was handed on to one receiver, and holds two of them side by side', async () => {
  const handoffs = [rowOf(9, { as_forecast: true }), rowOf(8), rowOf(7, { receiver: 'paper', receiver_title: 'Paper' })]
  const answers = { ...LISTS, 'GET /api/courses/1/handoffs': handoffs }
  const { view } = await shown(HandOffs, {}, { at: '/c/1/hand-off', answers })
  expect(view.find('.history').text()).toContain('found as forecast')
  await view.find('[aria-label="Receiver"]').setValue('board')
  const boxes = view.findAll('.history input[type="checkbox"]')
  expect(boxes).toHaveLength(2)
  for (const box of boxes) await box.setValue(true)
  const compare = sure(view.findAll('button').find((button) => button.text() === 'Compare two'))
  expect(compare.attributes('disabled')).toBeUndefined()
})

it('says of two hand-offs what was meant then and now, the older first', async () => {
  const between = {
    ...HANDED.ledger,
    items: [{ a: 'i1', b: 'i1', title: 'First', facets: { stem: 'changed' }, notes: [] }],
    totals: { changed: 1 },
    for_students: { changed: 1 },
    for_you: {},
  }
  const answers = {
    'GET /api/handoffs/8': HANDED,
    'GET /api/handoffs/9': { ...HANDED, id: 9, title: 'Later' },
    'GET /api/handoffs/8/against/9': between,
  }
  const { view } = await shown(Pair, {}, { at: '/c/1/hand-off/9/against/8', answers })
  expect(words(view.find('header').text())).toMatch(/Texture for A live quiz board.* and Later for A live quiz board/)
  expect(view.find('.line.body').text()).toContain('First')
})

it('asks for which sections a quiz is handed on, where the course has some', async () => {
  const answers = {
    ...LISTS,
    'GET /api/courses/1': { ...COURSE, sections: [{ name: 'Monday' }, { name: 'Thursday' }] },
    'GET /api/courses/1/quizzes': [{ id: 3, title: 'Week 3' }],
  }
  const quiz = await shown(HandOffs, {}, { at: '/c/1/hand-off?quiz=3', answers })
  expect(quiz.view.text()).toContain('all sections, with the dates of each')
  const pool = await shown(HandOffs, {}, { at: '/c/1/hand-off?pool=2', answers })
  expect(pool.view.find('#sections').exists()).toBe(false)
})

it('tells what a reader of a course can do instead, and asks no forecast', async () => {
  const answers = { ...LISTS, 'GET /api/courses/1': { ...COURSE, role: 'reader' } }
  const { view, asked } = await shown(HandOffs, {}, { at: '/c/1/hand-off', answers })
  expect(view.text()).toContain('copy what you need into one of yours')
  expect(asked.some((call) => call.path.endsWith('/forecast'))).toBe(false)
})

it('keeps a form from being kept while something of it is not right', async () => {
  const wrong = { problems: [{ field: 'limits.stem.most', why: 'it must be at least 1' }], sheet: null }
  const answers = { ...LISTS, 'POST /api/receivers/check': wrong }
  vi.useFakeTimers({ shouldAdvanceTime: true })
  const { view } = await shown(Receivers, {}, { at: '/c/1/hand-off/receivers/own-4', answers })
  await view.find('[aria-label="Characters of a stem"]').setValue('0')
  await vi.advanceTimersByTimeAsync(600)
  await flushPromises()
  expect(view.find('.buttons').text()).toContain('limits.stem.most: it must be at least 1')
  expect(view.find('.buttons button').attributes('disabled')).toBeDefined()
})

it('brings a sheet from a TOML file', async () => {
  const answers = { ...LISTS, 'POST /api/receivers/of-toml': own }
  const { view, asked } = await shown(Receivers, {}, { at: '/c/1/hand-off/receivers/own-4', answers })
  const field = view.find<HTMLInputElement>('input[type="file"]')
  Object.defineProperty(field.element, 'files', { value: [{ text: () => Promise.resolve('name = "ours"') }] })
  await field.trigger('change')
  await flushPromises()
  expect(sure(asked.find((call) => call.path.endsWith('/of-toml'))).body).toEqual({ toml: 'name = "ours"' })
})

import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, it, vi } from 'vitest'

import { nth, shown, sure } from '@/testing'
import RichInput from '@/ui/editor/RichInput.vue'

import ForecastPage from './ForecastPage.vue'

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

beforeEach(() => {
  localStorage.clear()
  vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(400)
})

const FACETS = ['type', 'stem', 'key']
const row = (id: number, title: string, standing: string, signs: string, why = '') => ({
  id: `i${id}`,
  title,
  type: 'numeric',
  standing,
  for_students: standing,
  for_you: 'same',
  signs,
  why,
})
const MATRIX = {
  line,
  facets: FACETS,
  rows: [
    row(1, 'First', 'same', '==='),
    row(2, 'Second', 'changed', '==c'),
    row(3, 'Third', 'refused', '', 'It is too long.'),
  ],
  offers: [
    { name: 'turn:fill_in', label: 'Turn it into a fill-in', by_hand: false, facets: ['type'], items: ['i2'] },
    { name: 'shorten', label: 'Write it shorter', by_hand: true, facets: ['stem'], items: ['i3'] },
  ],
}
const ITEM = {
  id: 'x',
  type: 'multiple_choice',
  stem: 'A stem of twenty-six signs',
  choices: [{ id: 'a', content: 'sand', weight: 1 }],
  feedback: {},
  metadata: {},
}
const DETAIL = {
  id: 'i3',
  row: 3,
  told: {
    title: 'Third',
    standing: 'refused',
    for_students: 'refused',
    facets: {},
    notes: [{ facet: 'type', verdict: 'lost', message: 'Stem 26 of 20 characters, 6 too many.', by: 'receiver' }],
  },
  offers: [{ name: 'shorten', label: 'Write it shorter', by_hand: true, words: '' }],
  item: ITEM,
  wording: null,
  left_aside: null,
  done: [],
  limits: { stem: 20, choice: null },
}
const FORECAST = {
  'POST /api/courses/1/forecast/matrix': MATRIX,
  'POST /api/courses/1/forecast/item': DETAIL,
  'POST /api/courses/1/forecast/repair': { count: 1, job: null },
  'PUT /api/courses/1/wordings/board/3': { done: true },
  'POST /api/item-lengths': { stem: 26, options: [4] },
}
const there = '/c/1/hand-off/forecast?what=pool-2&receiver=board'

it('shows items by facets, what is the same quietly, and why something is not taken', async () => {
  const { view } = await shown(ForecastPage, {}, { at: there, answers: FORECAST })
  const shownRows = view.findAll('.line.body')
  expect(shownRows).toHaveLength(3)
  // The worst for students stands first.
  expect(words(nth(shownRows, 0).text())).toContain('It is too long.')
  expect(nth(shownRows, 1).find('.changed').text()).toContain('changed')
  expect(words(view.find('.head').text())).toContain('key1')
})

it('shows what differs in one facet, or stands in one way, alone', async () => {
  const { view } = await shown(ForecastPage, {}, { at: `${there}&facet=key`, answers: FORECAST })
  expect(view.findAll('.line.body').map((entry) => entry.find('button').text())).toEqual(['Third', 'Second'])
  const other = await shown(ForecastPage, {}, { at: `${there}&type=essay`, answers: FORECAST })
  expect(other.view.text()).toContain('No item is like that.')
  const refused = await shown(ForecastPage, {}, { at: `${there}&only=refused`, answers: FORECAST })
  expect(refused.view.findAll('.line.body')).toHaveLength(1)
})

it('repairs all that a repair helps, for this receiver or in the pool', async () => {
  const { view, asked } = await shown(ForecastPage, {}, { at: there, answers: FORECAST })
  await sure(view.findAll('.offer button').find((button) => button.text() === 'All, in the pool')).trigger('click')
  await flushPromises()
  expect(sure(asked.find((call) => call.path.endsWith('/repair'))).body).toMatchObject({
    repair: 'turn:fill_in',
    items: [],
    place: 'pool',
    receiver: 'board',
  })
})

it('counts what is left while an item is written shorter, beside both texts', async () => {
  const { view } = await shown(ForecastPage, {}, { at: `${there}&item=3`, answers: FORECAST })
  const pane = view.find('.pane')
  expect(pane.find('.count').text()).toBe('26 of 20, 6 too many')
  expect(pane.find('.original').text()).toContain('A stem of twenty-six signs')
  expect(pane.text()).toContain('Stem 26 of 20 characters, 6 too many.')
})

it('keeps what was written shorter for this receiver alone, with all else of the item', async () => {
  const { view, asked } = await shown(ForecastPage, {}, { at: `${there}&item=3`, answers: FORECAST })
  const fields = view.findAllComponents(RichInput)
  expect(fields.map((field) => field.props('label'))).toEqual(['Stem for this receiver', 'Choice A for this receiver'])
  nth(fields, 0).vm.$emit('update:modelValue', 'A short one')
  await flushPromises()
  await view.find('.shorten').trigger('submit')
  await flushPromises()
  const sent = sure(asked.find((call) => call.method === 'PUT'))
  expect(sent.path).toBe('/api/courses/1/wordings/board/3')
  expect(sent.body).toMatchObject({ item: { ...ITEM, stem: 'A short one' } })
})

it('asks the core how long a text is, and shows the last answer alone', async () => {
  const answers = {
    ...FORECAST,
    'POST /api/item-lengths': (body: unknown) => ({
      stem: (body as { item: { stem: string } }).item.stem.length,
      options: [4],
    }),
  }
  vi.useFakeTimers({ shouldAdvanceTime: true })
  const { view } = await shown(ForecastPage, {}, { at: `${there}&item=3`, answers })
  await flushPromises()
  nth(view.findAllComponents(RichInput), 0).vm.$emit('update:modelValue', 'A short one')
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
  expect(view.find('.count').text()).toBe('11 of 20')
  expect(view.find('.shorten').text()).not.toContain('still too long')
})

it('offers what was written before the item was changed, and takes it up again', async () => {
  const answers = {
    ...FORECAST,
    'POST /api/courses/1/forecast/item': { ...DETAIL, left_aside: { ...ITEM, stem: 'Older' } },
  }
  const { view, asked } = await shown(ForecastPage, {}, { at: `${there}&item=3`, answers })
  expect(words(view.find('.worded').text())).toContain('before the item was changed, and is left aside')
  await sure(view.findAll('.worded button').find((button) => button.text() === 'It still holds')).trigger('click')
  await flushPromises()
  expect(sure(asked.find((call) => call.method === 'PUT')).body).toMatchObject({ item: { stem: 'Older' } })
})

it('takes back what was written for a receiver', async () => {
  const detail = { ...DETAIL, offers: [], wording: { ...ITEM, stem: 'Shorter' }, done: ['written by hand'] }
  const answers = {
    ...FORECAST,
    'POST /api/courses/1/forecast/item': detail,
    'DELETE /api/courses/1/wordings/board/3': { done: true },
  }
  const { view, asked } = await shown(ForecastPage, {}, { at: `${there}&item=3`, answers })
  expect(view.find('.worded').text()).toContain('written by hand')
  await sure(view.findAll('.worded button').find((button) => button.text() === 'As in the pool again')).trigger('click')
  await flushPromises()
  expect(asked.some((call) => call.method === 'DELETE')).toBe(true)
})

it('repairs one item from its pane, and says what that does to its marks', async () => {
  const turn = {
    name: 'turn:fill_in',
    label: 'Turn it into a fill-in',
    by_hand: false,
    repair: true,
    words: 'All responses earn the same.',
    responses: [],
  }
  const answers = { ...FORECAST, 'POST /api/courses/1/forecast/item': { ...DETAIL, offers: [turn] } }
  const { view, asked } = await shown(ForecastPage, {}, { at: `${there}&item=3`, answers })
  expect(view.find('.pane .offer').text()).toContain('All responses earn the same.')
  await nth(view.findAll('.pane .offer button'), 0).trigger('click')
  await flushPromises()
  const sent = sure(asked.find((call) => call.path.endsWith('/repair')))
  expect(sent.body).toMatchObject({ items: [3], place: 'receiver', repair: 'turn:fill_in' })
})

it('shows what marks an item differently as what it is, response by response', async () => {
  const turn = {
    name: 'turn:multiple_choice',
    label: 'Turn it into a multiple choice',
    by_hand: false,
    repair: false,
    words: 'the whole key earns 100 % and 50 % then.',
    responses: [{ response: 'the whole key', now: 1, then: 0.5 }],
  }
  const answers = { ...FORECAST, 'POST /api/courses/1/forecast/item': { ...DETAIL, offers: [turn] } }
  const { view } = await shown(ForecastPage, {}, { at: `${there}&item=3`, answers })
  const offer = view.find('.pane .offer')
  expect(words(offer.text())).toContain('It will be marked differently.')
  expect(offer.findAll('tbody td').map((cell) => cell.text())).toEqual(['the whole key', '100 %', '50 %'])
  expect(offer.findAll('button').map((button) => button.text())).toContain('For this receiver all the same')
})

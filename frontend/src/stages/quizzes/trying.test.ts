import { flushPromises } from '@vue/test-utils'
import { afterEach, expect, it, vi } from 'vitest'

import { nth, shown, sure } from '@/testing'

import Try from './Try.vue'
import { clock } from './useTrial'

const words = (text: string) => text.replace(/\s+/g, ' ')
const question = (id: string, fields = {}) => ({
  id,
  form: 'text',
  stem: `Question ${id}`,
  stimulus: null,
  points: 1,
  options: [],
  lefts: [],
  blanks: [],
  unit: null,
  ...fields,
})
const TRIAL = {
  title: 'Week 3',
  zone: 'UTC',
  section: '',
  student: '',
  sections: ['Monday lab'],
  students: ['R. Vane'],
  now: '2026-09-01T08:00:00Z',
  clock_set: false,
  terms: { opens: null, due: null, closes: null, attempts: 2, time_limit: 10 },
  rules: ['It has 2 items.', 'You have 10 minutes.'],
  code_wanted: true,
  refusal: '',
  counts: null,
  counts_words: 'the best one counts',
  scores: [] as unknown[],
  sitting: null as unknown,
}
const SITTING = {
  number: 1,
  seed: 's',
  started: '2026-09-01T08:00:00Z',
  ends: '2026-09-01T08:10:00Z',
  page: {
    number: 0,
    of: 2,
    items: [question('1')],
    headings: { 1: { title: 'Texture', instructions: '' } },
    places: { 1: 1 },
  },
  responses: {},
  unanswered: [1, 2],
  pages_of_unanswered: [0, 1],
  items: 2,
  back: true,
}
const SCORE = {
  number: 1,
  started: '2026-09-01T08:00:00Z',
  submitted: '2026-09-01T08:05:00Z',
  ended: 'time',
  earned: 1,
  points: 2,
  by_hand: 1,
  days_late: 1,
  over: 2.5,
  released: ['show_marks'],
  counts: true,
}
const at = '/c/1/quizzes/7/try'
const path = '/api/quizzes/7/trial'

afterEach(() => void vi.useRealTimers())

it('tells the rules, wants the code, and begins', async () => {
  vi.useFakeTimers({ toFake: ['Date', 'setInterval', 'clearInterval'] }) // a slow machine must not use the student's time up
  const answers = { [`GET ${path}`]: TRIAL, [`POST ${path}/begin`]: { ...TRIAL, sitting: SITTING } }
  const { view, asked } = await shown(Try, {}, { at, answers })
  expect(view.text()).toContain('You have 10 minutes.')
  const begin = view.find('form button')
  expect(begin.attributes('disabled')).toBeDefined()
  await view.find('form input').setValue('loam')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(sure(asked.find((call) => call.method === 'POST')).body).toEqual({ code: 'loam', seed: null })
  expect(words(view.text())).toContain('Page 1 of 2')
  expect(view.text()).toContain('10:00 left')
  expect(view.find('.heading').text()).toBe('Texture')
})

it('saves an answer as it is given, and turns the page when it is saved', async () => {
  const now = { ...TRIAL, sitting: { ...SITTING, responses: { 1: 'clay' }, unanswered: [2] } }
  const answers = {
    [`GET ${path}`]: { ...TRIAL, sitting: SITTING },
    [`PUT ${path}/responses`]: now,
    [`PUT ${path}/page`]: { ...now, sitting: { ...now.sitting, page: { ...SITTING.page, number: 1 } } },
  }
  const { view, asked } = await shown(Try, {}, { at, answers })
  await view.find('.items input').setValue('clay')
  await nth(view.findAll('footer button'), 0).trigger('click')
  await flushPromises()
  const sent = asked.filter((call) => call.method === 'PUT').map(({ path: to, body }) => [to, body])
  expect(sent).toEqual([
    [`${path}/responses`, { responses: { 1: 'clay' } }],
    [`${path}/page`, { page: 1 }],
  ])
  expect(words(view.text())).toContain('Page 2 of 2')
})

it('keeps answers while the server does not answer, and sends them again', async () => {
  vi.useFakeTimers({ shouldAdvanceTime: true })
  let there = true
  const kept: Record<string, unknown> = {}
  const sitting = () => ({ ...TRIAL, sitting: { ...SITTING, responses: { ...kept } } })
  const answers = {
    [`GET ${path}`]: sitting,
    [`PUT ${path}/responses`]: ({ responses }: { responses: object }) => {
      if (!there) throw new TypeError('Failed to fetch')
      Object.assign(kept, responses)
      return sitting()
    },
  }
  const { view, asked } = await shown(Try, {}, { at, answers })
  const field = () => view.find('.items input')
  there = false
  await field().setValue('cl')
  await flushPromises()
  await field().setValue('clay')
  await flushPromises()
  expect((field().element as HTMLInputElement).value).toBe('clay')
  expect(view.find('.state').text()).toContain('Not saved yet')
  await nth(view.findAll('footer button'), 0).trigger('click')
  await flushPromises()
  expect(view.find('[role=alert]').text()).toContain('does not answer')
  expect(asked.some(({ path: to }) => to.endsWith('/page'))).toBe(false)
  there = true
  await vi.advanceTimersByTimeAsync(6000)
  await flushPromises()
  expect(kept).toEqual({ 1: 'clay' })
  expect(view.find('.state').text()).toContain('All answers are saved')
})

it('tells why an answer is refused, and shows what is there', async () => {
  const answers = {
    [`GET ${path}`]: { ...TRIAL, sitting: { ...SITTING, responses: { 1: 'silt' } } },
    [`PUT ${path}/responses`]: () =>
      Response.json({ fact: 'This page is behind you.', way_out: 'Go on.' }, { status: 409 }),
  }
  const { view } = await shown(Try, {}, { at, answers })
  await view.find('.items input').setValue('clay')
  await flushPromises()
  expect(view.find('[role=alert]').text()).toContain('behind you')
  expect((view.find('.items input').element as HTMLInputElement).value).toBe('silt')
})

it('tells what has no answer before it is handed in', async () => {
  const answers = {
    [`GET ${path}`]: { ...TRIAL, sitting: SITTING },
    [`POST ${path}/submit`]: { ...TRIAL, scores: [SCORE], counts: 1 },
  }
  const { view } = await shown(Try, {}, { at, answers })
  await sure(view.findAll('footer button').at(-1)).trigger('click')
  await flushPromises()
  expect(words(document.body.textContent ?? '')).toContain('2 items have no answer yet')
  sure(document.querySelector<HTMLElement>('.el-dialog__footer .el-button--primary')).click()
  await flushPromises()
  expect(words(view.text())).toContain('handed in when time was up')
  expect(words(view.text())).toContain(', late, 2.5 minutes over the limit')
  expect(words(view.text())).toContain('1 of 2 points · 1 point await a person')
  expect(words(view.text())).toContain('Of these, the best one counts: 1 point.')
})

it('shows of an attempt what is released, and says what is not', async () => {
  const review = {
    number: 1,
    items: [question('1')],
    responses: { 1: 'clay' },
    marked: [{ id: '1', points: 1, by_hand: false, share: 1, earned: 1, feedback: [], key: '' }],
    earned: 1,
    points: 2,
    by_hand: 0,
    released: ['show_marks', 'show_responses', 'show_right'],
    said: ['Well done.'],
  }
  const answers = { [`GET ${path}`]: { ...TRIAL, scores: [SCORE] }, [`GET ${path}/attempts/1`]: review }
  const { view } = await shown(Try, {}, { at: `${at}?attempt=1`, answers })
  expect(words(view.find('.result').text())).toBe('1 of 2 points · not shown: the key, feedbackWell done.')
  expect((view.find('.question input').element as HTMLInputElement).value).toBe('clay')
})

it('is tried as another student, at another time, and anew', async () => {
  const closed = (body: object) => ({ ...TRIAL, ...body, refusal: 'This quiz is closed.' })
  const answers = { [`GET ${path}`]: TRIAL, [`PUT ${path}`]: closed }
  const { view, asked } = await shown(Try, {}, { at, answers })
  const [who, when] = [nth(view.findAll('.trial select'), 0), nth(view.findAll('.trial select'), 1)]
  await who.setValue('student R. Vane')
  await when.setValue('after closing')
  await flushPromises()
  expect(asked.filter((call) => call.method === 'PUT').map((call) => call.body)).toEqual([
    { section: '', student: 'R. Vane', clock: 'now', anew: false },
    { section: '', student: 'R. Vane', clock: 'after closing', anew: false },
  ])
  expect(view.find('[role=status]').text()).toContain('This quiz is closed.')
  expect(view.find('form').exists()).toBe(false)
})

it('says where a quiz cannot be tried', async () => {
  const { view } = await shown(Try, {}, { at, answers: {} })
  expect(view.find('[role=alert]').text()).toContain('Back to the quiz')
})

it('tells time as clocks do', () => {
  expect([5, 65, 3725].map(clock)).toEqual(['0:05', '1:05', '1:02:05'])
})

import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { nth, shown, sure } from '@/testing'

import Quiz from './Quiz.vue'
import Quizzes from './Quizzes.vue'
import Try from './Try.vue'

const FIGURES = {
  items: 5,
  points: 10,
  minutes: 8,
  overlap: 1,
  worst: 4,
  at_least_half: 0.1,
  outcomes: [],
  problems: [],
}
const SETTINGS = {
  time_limit: null,
  attempts: 1,
  counts: 'best',
  opens: null,
  closes: null,
  release: 'marks',
  release_when: 'at once',
}
const draw = { pool_size: 30, overlap: 1, worst: 5, at_least_half: 0.2, half: 3, needed_for_quarter: 20 }
const part = (id: number) => ({
  id,
  kind: 'draw',
  title: `Pool ${id}`,
  pool: id,
  pick: 5,
  points_each: 2,
  items: [],
  draw,
})
const QUIZ = { id: 7, title: 'Week 3', parts: [part(1), part(2)], figures: FIGURES, settings: SETTINGS }
const POOLS = { 'GET /api/courses/1/pools': [{ id: 4, name: 'Texture', parent: null, items: 9 }] }
const words = (text: string) => text.replace(/\s+/g, ' ')

it('lists quizzes, and makes one that has a title', async () => {
  const list = [{ id: 7, title: 'Week 3', parts: 1, items: 5, points: null }]
  const answers = { 'GET /api/courses/1/quizzes': list, 'POST /api/courses/1/quizzes': { id: 8, title: 'Week 4' } }
  const { view, asked } = await shown(Quizzes, {}, { at: '/c/1/quizzes', answers })
  expect(words(view.find('tr').text())).toContain('Week 31 part5 itemspoints differTry it')
  await view.find('form').trigger('submit')
  await view.find('input').setValue('Week 4')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(asked.filter((call) => call.method === 'POST').map((call) => call.body)).toEqual([{ title: 'Week 4' }])
})

async function quiz(more = {}) {
  const answers = {
    'GET /api/quizzes/7': { ...QUIZ, ...more },
    ...POOLS,
    'PATCH /api/parts/1': QUIZ,
    'PATCH /api/quizzes/7': QUIZ,
    'DELETE /api/parts/2': QUIZ,
  }
  const { view, asked } = await shown(Quiz, {}, { at: '/c/1/quizzes/7', answers })
  const changed = () =>
    asked.filter((call) => call.method !== 'GET').map(({ method, path, body }) => [method, path, body])
  return { view, changed }
}

it('moves a part, takes one out, and changes a setting', async () => {
  const { view, changed } = await quiz()
  await view.find('button[aria-label="Move Pool 1 down"]').trigger('click')
  await flushPromises()
  await sure(nth(view.findAll('.part'), 1).findAll('button').at(-1)).trigger('click')
  await flushPromises()
  await view.find('#release').setValue('everything')
  await flushPromises()
  expect(changed()).toEqual([
    ['PATCH', '/api/parts/1', { position: 1, set_points: false }],
    ['DELETE', '/api/parts/2', undefined],
    ['PATCH', '/api/quizzes/7', { settings: { ...SETTINGS, release: 'everything' } }],
  ])
})

it('offers no trial of a quiz without items, and says how to begin', async () => {
  const { view } = await quiz({ parts: [], figures: { ...FIGURES, items: 0 } })
  const button = sure(view.findAll('.el-button').find((entry) => entry.text().includes('Try it')))
  expect(button.attributes('disabled')).toBeDefined()
  expect(view.text()).toContain('Nothing in it yet')
  expect(sure(view.find('header a')).attributes('href')).toBe('/c/1/hand-off?quiz=7')
})

const question = (id: string) => ({
  id,
  form: 'text',
  stem: `Question ${id}`,
  stimulus: null,
  points: 1,
  options: [],
  lefts: [],
  blanks: [],
  unit: null,
})
const ATTEMPT = { seed: 'c0ffee', items: [question('1'), question('2')] }
const RESULT = {
  earned: 1,
  points: 2,
  by_hand: 1,
  release: 'marks',
  items: [{ id: '1', share: 1, earned: 1, points: 1, feedback: [], key: null }],
}

it('tries a quiz: the draw is named, the answers are counted and sent, the marks are shown', async () => {
  const answers = {
    'GET /api/quizzes/7': QUIZ,
    'POST /api/quizzes/7/trial': ATTEMPT,
    'POST /api/quizzes/7/mark': RESULT,
  }
  const { view, asked } = await shown(Try, {}, { at: '/c/1/quizzes/7/try?seed=c0ffee', answers })
  expect(view.text()).toContain('Draw c0ffee')
  await nth(view.findAll('input'), 0).setValue('clay')
  expect(view.find('footer').text()).toContain('Submit 1 of 2 answers')
  await view.find('footer button').trigger('click')
  await flushPromises()
  expect(sure(asked.find((call) => call.path.endsWith('/mark'))).body).toEqual({
    seed: 'c0ffee',
    responses: { 1: 'clay' },
  })
  expect(words(view.find('.result').text())).toBe('1 of 2 points · 1 points to be marked by hand · students see marks')
  await view.find('footer button').trigger('click')
  expect(view.find('.result').exists()).toBe(false)
})

it('says where a quiz cannot be tried', async () => {
  const { view } = await shown(Try, {}, { at: '/c/1/quizzes/7/try', answers: {} })
  expect(view.find('[role=alert]').text()).toContain('Back to the quiz')
})

import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { COURSE, nth, shown, sure } from '@/testing'

import CarryDialog from './CarryDialog.vue'
import DrawsView from './DrawsView.vue'
import Quiz from './Quiz.vue'
import Quizzes from './Quizzes.vue'
import { part, QUIZ, SUMS } from './testing'

const words = (text: string) => text.replace(/\s+/g, ' ')

it('lists quizzes with what is worth a second look, and makes one that has a title', async () => {
  const row = {
    id: 7,
    title: 'Week 3',
    parts: 1,
    items: 5,
    points: null,
    opens: null,
    closes: null,
    heading: 'Each student gets 5 items, once.',
    doubts: 2,
  }
  const answers = { 'GET /api/courses/1/quizzes': [row], 'POST /api/courses/1/quizzes': { id: 8, title: 'Week 4' } }
  const { view, asked } = await shown(Quizzes, {}, { at: '/c/1/quizzes', answers })
  for (const said of ['Week 3', '5 items, once', '1 part', 'points differ', '2 worth a second look'])
    expect(words(view.find('tr').text())).toContain(said)
  await view.find('form').trigger('submit')
  await view.find('.title input').setValue('Week 4')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(asked.filter((call) => call.method === 'POST').map((call) => call.body)).toEqual([{ title: 'Week 4' }])
})

async function quiz(more = {}, at = '/c/1/quizzes/7') {
  const answers = {
    'GET /api/quizzes/7': { ...QUIZ, ...more },
    'GET /api/quizzes/7/sums': SUMS,
    'GET /api/courses/1/pools': [{ id: 4, name: 'Texture', parent: null, items: 9 }],
    'GET /api/courses/1/quizzes': [],
    'GET /api/courses/1/patterns': [],
    'GET /api/courses/1/items/counts': { counts: {} },
    'GET /api/formats': [],
    'PATCH /api/quizzes/7': QUIZ,
    'POST /api/quizzes/7/edits': QUIZ,
    'POST /api/quizzes/7/points': QUIZ,
  }
  const { view, asked } = await shown(Quiz, {}, { at, answers })
  const changed = () =>
    asked.filter((call) => call.method !== 'GET').map(({ method, path, body }) => [method, path, body])
  return { view, changed }
}

it('moves parts and items by keys, and into the next part beyond the end of one', async () => {
  const { view, changed } = await quiz()
  await view.find('[data-part="1"]').trigger('keydown', { key: 'ArrowDown' })
  await flushPromises()
  await view.find('[data-item="9"]').trigger('keydown', { key: 'ArrowDown' })
  await flushPromises()
  await view.find('[data-item="10"]').trigger('keydown', { key: 'ArrowDown' })
  await flushPromises()
  await view.find('[data-part="1"]').trigger('keydown', { key: 'ArrowUp' })
  await flushPromises()
  expect(changed().map(([, , body]) => body)).toEqual([
    { do: 'move parts', parts: [1], to: 1 },
    { do: 'move items', items: [9], part: 2, to: 1 },
    { do: 'move items', items: [10], part: 3, to: 0 },
  ])
})

it('does something to all that is chosen', async () => {
  const { view, changed } = await quiz()
  await view.find('input[aria-label="Choose item 2 of Fixed"]').setValue(true)
  await view.find('input[aria-label="Choose Pool 1"]').setValue(true)
  const bar = view.find('[aria-label="What is chosen"]')
  expect(words(bar.text())).toContain('1 part and 1 item chosen')
  await sure(bar.findAll('button').find((button) => button.text().startsWith('Take'))).trigger('click')
  await flushPromises()
  expect(changed().at(-1)).toEqual(['POST', '/api/quizzes/7/edits', { do: 'take out', parts: [1], items: [10] }])
  expect(view.find('[aria-label="What is chosen"]').exists()).toBe(false)
})

it('moves what is dragged to where it is dropped', async () => {
  const { view, changed } = await quiz()
  await view.find('[data-part="3"]').trigger('dragstart')
  const first = nth(view.findAll('.part'), 0)
  await first.trigger('dragover', { clientY: -1 })
  await first.trigger('drop')
  await flushPromises()
  expect(changed().map(([, , body]) => body)).toEqual([{ do: 'move parts', parts: [3], to: 0 }])
})

it('shares out what the gradebook is to show', async () => {
  const { view, changed } = await quiz({ settings: { ...QUIZ.settings, out_of: 12 } })
  const form = view.find('form[aria-label="Share out points"]')
  expect(form.find('.differs').text()).toContain('add up to 10')
  await form.trigger('submit')
  await flushPromises()
  expect(changed()).toEqual([['POST', '/api/quizzes/7/points', { total: 12, step: 1, parts: [] }]])
})

it('offers no trial of a quiz without items, and says how to begin', async () => {
  const { view } = await quiz({ parts: [], figures: { ...QUIZ.figures, items: 0 } })
  const button = sure(view.findAll('.el-button').find((entry) => entry.text().includes('Try it')))
  expect(button.attributes('disabled')).toBeDefined()
  expect(view.text()).toContain('Nothing in it yet')
  expect(sure(view.find('header a')).attributes('href')).toBe('/c/1/hand-off?quiz=7')
})

it('adds a quiz up: exposure, a class, what it covers, what is left to do', async () => {
  const { view } = await quiz()
  const text = words(view.find('aside').text())
  for (const said of [
    '3.1 items on average (± 0.02, simulated), 8 at worst',
    '9 (8 to 10 in nine of ten classes, simulated)',
    '12 items seen by25 % of students',
    'Pool 1 and Fixed have 2 items in common',
    'Chapter 354',
    '4 of 20',
  ])
    expect(text).toContain(said)
})

it('shows the draws of a class, and what each two share', async () => {
  const answers = {
    'POST /api/quizzes/7/draws-of-many': {
      items: [['9'], ['10'], ['9']],
      texts: { '9': 'Which is clay?', '10': 'Which is sand?' },
      shared: [
        { one: 1, other: 2, items: 0 },
        { one: 1, other: 3, items: 1 },
        { one: 2, other: 3, items: 0 },
      ],
    },
  }
  const { view } = await shown(DrawsView, { quiz: QUIZ }, { at: '/c/1/quizzes/7/draws', answers })
  expect(view.findAll('.matrix tbody td').map((cell) => cell.text())).toEqual([
    '',
    '0',
    '1',
    '0',
    '',
    '0',
    '1',
    '0',
    '',
  ])
  expect(view.text()).toContain('1 at most')
  await view.find('button[aria-label="Draw of student 2"]').trigger('click')
  expect(view.find('aside').text()).toContain('Which is sand?')
})

it('carries a quiz on, with its dates moved', async () => {
  const answers = {
    'GET /api/courses': [COURSE, { ...COURSE, id: 2, name: 'Field Methods 210' }],
    'POST /api/courses/1/quizzes/carry': { course: 1, quizzes: [8] },
  }
  const { view, asked } = await shown(
    CarryDialog,
    { modelValue: true, quizzes: [{ ...QUIZ, settings: { opens: '2026-12-07T14:00:00Z' } }] },
    { at: '/c/1/quizzes/7', answers },
  )
  const weeks = sure(document.querySelector<HTMLInputElement>('[aria-label="Weeks"]'))
  weeks.value = '2'
  weeks.dispatchEvent(new Event('change'))
  await flushPromises()
  expect(document.body.textContent).toContain('Mon 7 Dec 2026, 14:00 becomes Mon 21 Dec 2026, 14:00.')
  sure(document.querySelector<HTMLElement>('.el-dialog__footer .el-button--primary')).click()
  await flushPromises()
  expect(sure(asked.find((call) => call.method === 'POST')).body).toEqual({
    quizzes: [7],
    weeks: 2,
    days: 0,
    course: 1,
    pools: 'linked',
    with_exceptions: false,
  })
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([false])
  expect(part(1).kind).toBe('draw')
})

import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { COURSE, nth, shown, sure } from '@/testing'

import CarryDialog from './CarryDialog.vue'
import ChosenBar from './ChosenBar.vue'
import ConditionFields from './ConditionFields.vue'
import DrawForm from './DrawForm.vue'
import MomentField from './MomentField.vue'
import PatternBar from './PatternBar.vue'
import ReplaceDialog from './ReplaceDialog.vue'
import { line, part, QUIZ } from './testing'
import { useOrder } from './useOrder'

const words = (text: string) => text.replace(/\s+/g, ' ').trim()
const POOLS = { 'GET /api/courses/1/pools': [{ id: 4, name: 'Texture', parent: null, items: 9 }] }
const COUNTS = {
  'GET /api/courses/1/items/counts': {
    counts: { outcome: { '2.1': 3, '(none)': 9 }, difficulty: { hard: 2 }, type: { essay: 1 } },
  },
}

it('puts conditions together, each facet once, and drops them', async () => {
  const where = [{ facet: 'outcome', values: ['2.1'], but: false }]
  const props = { modelValue: where, course: 1, pool: 4, label: 'row 1' }
  const { view, asked } = await shown(ConditionFields, props, { answers: COUNTS })
  const said = () => view.emitted('update:modelValue')?.at(-1)?.[0]
  await view.find('[aria-label="How outcome is meant for row 1"]').setValue('but')
  expect(said()).toEqual([{ facet: 'outcome', values: ['2.1'], but: true }])
  const more = view.find('[aria-label="Add a condition for row 1"]')
  expect(more.findAll('option').map((option) => option.text())).toEqual(['and…', 'by difficulty', 'by type'])
  await more.setValue('type')
  const type = { facet: 'type', values: [], but: false }
  expect(said()).toEqual([{ facet: 'outcome', values: ['2.1'], but: true }, type])
  await view.find('[aria-label="Drop the condition on outcome for row 1"]').trigger('click')
  expect(said()).toEqual([type])
  expect(asked.some(({ path }) => path.endsWith('/items/counts'))).toBe(true)
})

it('adds a draw of what is meant, or all of a pool as a part', async () => {
  const addDraw = { mutateAsync: vi.fn(() => Promise.resolve()), isPending: { value: false } }
  const addItems = { mutate: vi.fn(), isPending: { value: false } }
  const props = { course: 1, work: { addDraw, addItems } }
  const { view } = await shown(DrawForm, props, { answers: { ...POOLS, ...COUNTS } })
  const [add, all] = view.findAll('button[type=submit], .second button')
  expect([add?.attributes('disabled'), all?.attributes('disabled')]).toEqual(['', ''])
  nth(view.findAllComponents({ name: 'ElSelect' }), 0).vm.$emit('update:modelValue', 4)
  await flushPromises()
  await view.find('[aria-label="How many"]').setValue('6')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(addDraw.mutateAsync).toHaveBeenCalledWith({ pool: 4, pick: 6, points_each: 1, where: [], alone: false })
  await sure(view.findAll('button').find((button) => button.text() === 'Put in all of Texture')).trigger('click')
  expect(addItems.mutate).toHaveBeenCalledWith({
    items: [],
    selection: { all_matching: true, pool: 4, with_subpools: true },
    title: 'Texture',
  })
  nth(view.findAllComponents({ name: 'ElSelect' }), 0).vm.$emit('update:modelValue', 0)
  await flushPromises()
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(addDraw.mutateAsync).toHaveBeenLastCalledWith({ pool: null, pick: 6, points_each: 1, where: [], alone: false })
})

it('gives what is chosen points, all at once, and moves it', async () => {
  const edit = { mutate: vi.fn() }
  const items = [line(9), line(11)]
  const { view } = await shown(ChosenBar, { quiz: QUIZ, work: { edit }, parts: [part(1)], items })
  await view.find('[aria-label="Points for what is chosen"]').setValue('3')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(edit.mutate).toHaveBeenLastCalledWith({ do: 'worth', parts: [1], items: [9, 11], points: 3 })
  await view.find('[aria-label="Move to a part"]').setValue('3')
  expect(edit.mutate).toHaveBeenLastCalledWith({ do: 'move items', items: [9, 11], part: 3, to: 1 })
  await sure(view.findAll('button').at(-1)).trigger('click')
  expect(view.emitted('clear')).toHaveLength(1)
})

it('offers items that are like one, the most like first', async () => {
  const answers = { 'GET /api/quizzes/7/items/9/alike': [line(20), line(21, { picture: true })] }
  const { view } = await shown(ReplaceDialog, { item: line(9), quiz: 7, course: 1 }, { answers })
  const offered = [...document.querySelectorAll<HTMLElement>('.el-dialog li button')]
  expect(offered.map((entry) => words(entry.textContent ?? ''))).toEqual([
    'Question 20essay, 1 point',
    'Question 21▣essay, 1 point',
  ])
  nth(offered, 1).click()
  expect(view.emitted('pick')).toEqual([[21]])
  expect(view.emitted('close')).toHaveLength(1)
})

it('says where nothing is like an item', async () => {
  await shown(
    ReplaceDialog,
    { item: line(9), quiz: 7, course: 1 },
    { answers: { 'GET /api/quizzes/7/items/9/alike': [] } },
  )
  expect(document.body.textContent).toContain('no other item')
})

it('puts a pattern on a quiz, keeps one, and forgets one', async () => {
  const putPattern = { mutate: vi.fn(), isPending: { value: false } }
  const answers = {
    'GET /api/courses/1/patterns': [{ id: 3, name: 'Weekly', settings: {} }],
    'POST /api/quizzes/7/patterns': { id: 4, name: 'Lab', settings: {} },
    'DELETE /api/courses/1/patterns/3': { done: true },
  }
  const { view, asked } = await shown(PatternBar, { quiz: QUIZ, work: { putPattern }, course: 1 }, { answers })
  await view.find('select').setValue(3)
  await sure(view.findAll('button').find((button) => button.text() === 'Set this quiz as Weekly')).trigger('click')
  expect(putPattern.mutate).toHaveBeenCalledWith(3)
  await sure(view.findAll('button').find((button) => button.text().startsWith('Keep these'))).trigger('click')
  await view.find('[aria-label="Name of the pattern"]').setValue('Lab')
  await view.find('form').trigger('submit')
  await flushPromises()
  await sure(view.findAll('button').find((button) => button.text() === 'Delete preset')).trigger('click')
  await sure(view.findAll('button').find((button) => button.text() === 'Delete permanently')).trigger('click')
  await flushPromises()
  const changed = asked.filter(({ method }) => method !== 'GET')
  expect(changed.map(({ method, body }) => [method, body])).toEqual([
    ['POST', { name: 'Lab' }],
    ['DELETE', undefined],
  ])
})

it('shows a moment with its weekday by the clocks of the course', async () => {
  const props = { modelValue: '2026-12-08T02:30:00Z', zone: 'America/Chicago', label: 'Opens' }
  const { view } = await shown(MomentField, props)
  expect((view.find('input').element as HTMLInputElement).value).toBe('Mon 7 Dec 2026, 20:30')
  view.findComponent({ name: 'ElDatePicker' }).vm.$emit('update:modelValue', '2026-12-07T21:00')
  expect(view.emitted('update:modelValue')).toEqual([['2026-12-08T03:00:00Z']])
})

it('takes a moment in words, and keeps what it does not understand at the field', async () => {
  const props = { modelValue: '2026-12-08T02:30:00Z', zone: 'America/Chicago', label: 'Due', end: true }
  const { view } = await shown(MomentField, props)
  const type = async (text: string) => {
    await view.find('input').setValue(text)
    await view.find('input').trigger('change')
  }
  await type('the week after next')
  expect(view.emitted('update:modelValue')).toBeUndefined()
  expect(view.find('[role=alert]').text()).toContain('“the week after next” is no date')
  expect(view.find('input').attributes('aria-invalid')).toBe('true')
  await type('11 Dec 2026')
  expect(view.emitted('update:modelValue')).toEqual([['2026-12-12T05:59:00Z']])
  expect(view.find('[role=alert]').exists()).toBe(false)
  await type('')
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([null])
})

it('gives a section its own dates', async () => {
  const sections = [{ id: 1, name: 'Monday', students: 9 }]
  const answers = {
    'GET /api/courses': [COURSE],
    'GET /api/courses/1': { ...COURSE, sections },
    'POST /api/courses/1/quizzes/section': { course: 1, quizzes: [7] },
  }
  const { view, asked } = await shown(CarryDialog, { modelValue: false, quizzes: [QUIZ] }, { answers })
  await view.setProps({ modelValue: true })
  await flushPromises()
  const radios = [...document.querySelectorAll<HTMLInputElement>('.el-dialog input[type=radio]')]
  nth(radios, 1).click()
  await flushPromises()
  const days = sure(document.querySelector<HTMLInputElement>('[aria-label="Days"]'))
  days.value = '3'
  days.dispatchEvent(new Event('change'))
  await flushPromises()
  const act = sure(document.querySelector<HTMLElement>('.el-dialog__footer .el-button--primary'))
  expect(words(act.textContent ?? '')).toBe('Give Monday its dates')
  act.click()
  await flushPromises()
  expect(sure(asked.find(({ method }) => method === 'POST')).body).toEqual({
    quizzes: [7],
    section: 'Monday',
    weeks: 0,
    days: 3,
  })
})

it('tells where what is dragged would land, and nothing where it stays', () => {
  const dropped = vi.fn()
  const order = useOrder<string>(dropped)
  const row = document.createElement('li')
  const event = (y: number) =>
    ({ clientY: y, currentTarget: row, preventDefault: () => undefined, stopPropagation: () => undefined }) as never
  order.hover(event(1), 'b')
  expect(order.over.value).toBeUndefined()
  order.start(event(0), 'a')
  order.hover(event(1), 'b')
  expect([order.over.value, order.behind.value]).toEqual(['b', true])
  order.drop(event(1))
  order.start(event(0), 'a')
  order.hover(event(-1), 'a')
  order.drop(event(-1))
  expect(dropped.mock.calls).toEqual([[{ dragged: 'a', over: 'b', behind: true }]])
  expect(order.dragged.value).toBeUndefined()
})

import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { shown, sure } from '@/testing'

import PlanView from './PlanView.vue'
import { QUIZ } from './testing'

const ROW = { pool: 4, pool_path: ['Texture'], pick: 5, alone: false, where: [] }
const LOOK = {
  told: '4 of 5 items can be had; Texture is short.',
  gets: 4,
  rows: [{ label: 'Texture', holds: 4, apart: 1, gets: 4, problem: 'Texture holds 4 items, the plan asks for 5.' }],
}

async function plan(more = {}) {
  const applyPlan = { mutateAsync: vi.fn(() => Promise.resolve()), isPending: { value: false } }
  const answers = {
    'GET /api/courses/1/pools': [{ id: 4, name: 'Texture', parent: null, items: 9 }],
    'GET /api/courses/1/quizzes': [
      { id: 7, title: 'Week 3' },
      { id: 8, title: 'Midterm' },
    ],
    'GET /api/courses/1/items/counts': { counts: { outcome: { '2.1': 3 } } },
    'POST /api/quizzes/7/plan/look': LOOK,
    'POST /api/quizzes/7/plan/share': { rows: [ROW, { ...ROW, pool: null, pick: 2 }] },
  }
  const props = {
    quiz: { ...QUIZ, plan: { rows: [ROW], as_draws: false, apart_from: [8], seed: 's' }, ...more },
    work: { applyPlan },
  }
  const { view, asked } = await shown(PlanView, props, { at: '/c/1/quizzes/7/plan', answers })
  await vi.waitFor(() => expect(asked.some(({ path }) => path.endsWith('/look'))).toBe(true))
  await flushPromises()
  return { view, asked, applyPlan }
}

it('says what is short, and picks what can be had', async () => {
  const { view, applyPlan } = await plan()
  expect(view.find('tr.problem').text()).toBe('Texture holds 4 items, the plan asks for 5.')
  const pick = view.find('button.pick')
  expect(pick.text()).toBe('Pick 4 items')
  await view.find('input[type=radio][value=true]').setValue()
  await pick.trigger('click')
  await flushPromises()
  expect(applyPlan.mutateAsync).toHaveBeenCalledWith({
    rows: [{ pool: 4, pick: 5, alone: false, where: [] }],
    as_draws: true,
    apart_from: [8],
    seed: 's',
  })
})

it('adds conditions to a row, drops rows, and makes rows of a total', async () => {
  const { view, asked } = await plan()
  await view.find('[aria-label="Add a condition for row 1"]').setValue('outcome')
  expect(view.find('[aria-label="How outcome is meant for row 1"]').exists()).toBe(true)
  await view.find('[aria-label="Drop row 1"]').trigger('click')
  expect(view.text()).toContain('A plan says where')
  const over = view.findComponent({ name: 'ElSelect' })
  over.vm.$emit('update:modelValue', [4])
  await flushPromises()
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(sure(asked.find(({ path }) => path.endsWith('/share'))).body).toEqual({
    total: 24,
    pools: [4],
    equally: false,
  })
  expect(view.findAll('tbody td.count')).toHaveLength(2)
})

import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { nth, shown, sure } from '@/testing'
import TopBar from '@/ui/TopBar.vue'

import Courses from './Courses.vue'
import SignIn from './SignIn.vue'

const SESSION = { user: null, demo_accounts: [{ name: 'mara', password: 'soil-and-water', about: 'Soil Science 110' }] }

it('signs in by hand or as a demo account, and says why that failed', async () => {
  const { view, asked } = await shown(SignIn, {}, { at: '/sign-in', answers: { 'GET /api/session': SESSION } })
  await view.find('#name').setValue('tobin')
  await view.find('#password').setValue('wrong')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(view.find('[role=alert]').text()).toBe('It is not there. Look elsewhere.')
  await sure(view.findAll('button').find((button) => button.text() === 'Sign in as mara')).trigger('click')
  await flushPromises()
  expect(asked.filter((call) => call.method === 'POST').map((call) => call.body)).toEqual([
    { name: 'tobin', password: 'wrong' },
    { name: 'mara', password: 'soil-and-water' },
  ])
})

it('lists courses and makes one', async () => {
  const answers = {
    'GET /api/courses': [{ id: 1, name: 'Soil Science 110' }],
    'POST /api/courses': { id: 2, name: 'Field Methods' },
  }
  const { view, asked } = await shown(Courses, {}, { at: '/', answers })
  expect(view.find('li a').attributes('href')).toBe('/c/1/sources')
  await view.find('input').setValue('Field Methods')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(sure(asked.find((call) => call.method === 'POST')).body).toEqual({
    name: 'Field Methods',
    time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  })
  const { view: none } = await shown(Courses, {}, { at: '/', answers: { 'GET /api/courses': [] } })
  expect(none.text()).toContain('no course yet')
})

it('shows on the work line what waits in each stage, and where one is', async () => {
  const waiting = { sources: 4, check: 28, flagged: 3, pools: 64, quizzes: 1, handoffs: 1 }
  const answers = {
    'GET /api/session': { user: 'mara', demo_accounts: [] },
    'GET /api/courses': [{ id: 1, name: 'Soil Science 110' }],
    'GET /api/courses/1': { id: 1, name: 'Soil Science 110', waiting },
  }
  const { view } = await shown(TopBar, {}, { at: '/c/1/check/5', answers })
  const stages = view.findAll('nav a')
  expect(stages.map((stage) => stage.text())).toEqual(['Sources4', 'Check28', 'Pools64', 'Quizzes1', 'Hand-off1'])
  expect(stages.map((stage) => stage.attributes('aria-current'))).toEqual([
    undefined,
    'page',
    undefined,
    undefined,
    undefined,
  ])
  expect(nth(stages, 1).find('.count').classes('flagged')).toBe(true)
})

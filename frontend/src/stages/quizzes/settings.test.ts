import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { COURSE, nth, shown, sure } from '@/testing'

import PeopleDates from './PeopleDates.vue'
import ReleaseField from './ReleaseField.vue'
import SettingsView from './SettingsView.vue'
import { QUIZ, SETTINGS } from './testing'

async function settings(more = {}, quiz = {}) {
  const set = vi.fn()
  const answers = { 'GET /api/courses/1/patterns': [], 'GET /api/courses/1': { ...COURSE, sections: [] } }
  const { view } = await shown(
    SettingsView,
    { quiz: { ...QUIZ, settings: { ...SETTINGS, ...more }, ...quiz }, work: { set } },
    { at: '/c/1/quizzes/7/settings', answers },
  )
  return { view, set }
}

it.each([
  ['#time', '45', { time_limit: 45 }],
  ['#time', '0', { time_limit: null }],
  ['#attempts', 'any', { attempts: 0 }],
  ['#attempts', '3', { attempts: 3 }],
  ['#navigation', 'in order', { navigation: 'in order' }],
  ['#shown', 'one at a time', { shown: 'one at a time' }],
  ['#skipping', 'false', { skipping: false }],
  ['#late', 'refused', { late: 'refused' }],
  ['#code', ' loam ', { access_code: 'loam' }],
  ['#pause', '60', { pause: 60 }],
  ['[aria-label="Of several attempts"]', 'average', { counts: 'average' }],
  ['[aria-label="When students see: the key"]', 'after closing', { show_key: 'after closing' }],
])('changes the one setting of %s to %s', async (field, value, change) => {
  const { view, set } = await settings()
  await view.find(field).setValue(value)
  expect(set).toHaveBeenLastCalledWith(change)
})

it('tells the settings in words, and settles what is worth a second look', async () => {
  const doubt = {
    code: 'x',
    setting: 'show_key',
    fact: 'The key is out.',
    way_out: 'Hide it.',
    change: { show_key: 'never' },
  }
  const { view, set } = await settings({}, { doubts: [doubt, { ...doubt, code: 'y', change: {} }] })
  expect(view.find('aside').text()).toContain('Each student gets 5 items, once.')
  const offers = view.findAll('aside .link-button')
  expect(offers).toHaveLength(1)
  await nth(offers, 0).trigger('click')
  expect(set).toHaveBeenLastCalledWith({ show_key: 'never' })
})

it('shows something from a moment on, which begins after closing', async () => {
  const props = { label: 'marks', zone: 'UTC', usual: 'never', later: '2026-09-08T08:00:00Z', modelValue: null }
  const { view } = await shown(ReleaseField, props)
  await view.find('select').setValue('at a time')
  await view.find('select').setValue('never')
  expect(view.emitted('update:modelValue')).toEqual([['2026-09-08T08:00:00Z'], ['never']])
})

it('gives sections and students what is their own, and takes it away again', async () => {
  const own = {
    sections: [{ section: 'Monday', opens: null }],
    exceptions: [{ student: 'R. Vane', section: '', time_factor: 1.5, attempts: null }],
  }
  const { view } = await shown(PeopleDates, { settings: own, zone: 'UTC', known: ['Monday', 'Thursday'] })
  const emitted = () => view.emitted('set')?.at(-1)?.[0]
  await view.find('[aria-label="Dates of their own for a section"]').setValue('Thursday')
  expect(emitted()).toEqual({ sections: [{ section: 'Monday', opens: null }, { section: 'Thursday' }] })
  await view.find('[aria-label="Factor of time for R. Vane"]').setValue('2,5')
  expect(emitted()).toEqual({ exceptions: [{ ...own.exceptions[0], time_factor: 2.5 }] })
  await sure(view.findAll('.exception button').at(-1)).trigger('click')
  expect(emitted()).toEqual({ exceptions: null })
  await view.find('[aria-label="Name of a student"]').setValue('A. Loam')
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(emitted()).toEqual({
    exceptions: [own.exceptions[0], { student: 'A. Loam', section: '', time_factor: 1.5 }],
  })
})

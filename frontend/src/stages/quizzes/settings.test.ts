import { expect, it } from 'vitest'

import { nth, shown } from '@/testing'

import QuizSettings from './QuizSettings.vue'

const SETTINGS = {
  time_limit: null,
  attempts: 2,
  counts: 'best',
  opens: '2026-09-01T08:30:00Z',
  closes: null,
  release: 'marks',
  release_when: 'at once',
  shuffle_items: false,
  shuffle_choices: true,
}

it.each([
  ['#time', '45', { time_limit: 45 }],
  ['#time', '0', { time_limit: null }],
  ['#attempts', 'many', { attempts: 0 }],
  ['#navigation', 'in order', { navigation: 'in order' }],
  ['#skipping', 'false', { skipping: false }],
  ['#review', '', { review: null }],
  ['#counts', 'average', { counts: 'average' }],
  ['#release', 'everything', { release: 'everything' }],
  ['#when', 'after closing', { release_when: 'after closing' }],
  ['#closes', '2026-09-08T20:00', { closes: '2026-09-08T20:00:00Z' }],
  ['#opens', '', { opens: null }],
])('changes the one setting of %s to %s', async (field, value, change) => {
  const { view } = await shown(QuizSettings, { settings: SETTINGS })
  await view.find(field).setValue(value)
  expect(view.emitted('change')?.at(-1)).toEqual([{ ...SETTINGS, ...change }])
})

it('shows the moment that it opens, and turns random order on and off', async () => {
  const { view } = await shown(QuizSettings, { settings: SETTINGS })
  expect((view.find('#opens').element as HTMLInputElement).value).toBe('2026-09-01T08:30')
  const boxes = view.findAll('input[type=checkbox]')
  await nth(boxes, 0).trigger('change')
  await nth(boxes, 1).trigger('change')
  expect(view.emitted('change')).toEqual([
    [{ ...SETTINGS, shuffle_items: true }],
    [{ ...SETTINGS, shuffle_choices: false }],
  ])
})

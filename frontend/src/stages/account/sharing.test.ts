import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { COURSE, nth, shown, sure } from '@/testing'
import { said } from '@/ui/say'

import Offers from '../sources/Offers.vue'
import CoursePage from './CoursePage.vue'
import Courses from './Courses.vue'

const LIST = [
  { id: 1, name: 'Soil Science 110', owner: 'mara', role: 'owner', shared: 2 },
  { id: 2, name: 'Field Methods 210', owner: 'tobin', role: 'reader', shared: 1 },
]
const answers = {
  'GET /api/courses': LIST,
  'GET /api/deleted-courses': [{ id: 9, name: 'Old', until: '2026-12-24T10:00:00Z' }],
  'POST /api/courses/9/bring-back': LIST[0],
}

it('says of each course whose it is, and brings a deleted one back', async () => {
  const { view, asked } = await shown(Courses, {}, { at: '/', answers })
  const rows = view.findAll('li').map((row) => row.text().replace(/\s+/g, ' '))
  expect(rows).toEqual([
    'Soil Science 110yours, shared with 2',
    'Field Methods 210tobin’s, you read',
    'Old kept until 24 DecemberBring it back',
  ])
  await sure(view.findAll('button').find((entry) => entry.text() === 'Bring it back')).trigger('click')
  await flushPromises()
  expect(asked.some((call) => call.path === '/api/courses/9/bring-back')).toBe(true)
})

it('opens a saved course, and says in its place what is wrong with a file', async () => {
  const { view, asked } = await shown(Courses, {}, { at: '/', answers })
  const field = view.find('input[type=file]')
  Object.defineProperty(field.element, 'files', { value: [new File(['x'], 'no.zip')] })
  await field.trigger('change')
  await flushPromises()
  expect(asked.at(-1)?.path).toBe('/api/saved-courses')
  expect(view.find('[role=alert]').text()).toBe('It is not there. Look elsewhere.')
})

it('shows how far an opening is, why one failed, and goes to the course that is whole', async () => {
  const job = {
    id: 'j',
    work: 'open-course',
    label: 'Open Soil',
    seen: false,
    done: 0,
    total: 0,
    created: '',
    result: null,
    problem: null,
  }
  const failed = { ...job, id: 'f', state: 'failed', problem: { fact: 'It is damaged.', way_out: 'Choose another.' } }
  const jobs = vi
    .fn()
    .mockReturnValueOnce([failed])
    .mockReturnValueOnce([{ ...job, state: 'running', done: 400 }, failed])
    .mockReturnValue([{ ...job, state: 'done', result: { course: 7 } }, failed])
  const { view, asked } = await shown(
    Courses,
    {},
    {
      at: '/',
      answers: { ...answers, 'GET /api/jobs': jobs, 'POST /api/saved-courses': { ...job, state: 'waiting' } },
    },
  )
  expect(view.find('[role=alert]').text()).toContain('Open Soil failed. It is damaged. Choose another.')
  const field = view.find('input[type=file]')
  Object.defineProperty(field.element, 'files', { value: [new File(['x'], 'soil.zip')] })
  await field.trigger('change')
  await flushPromises()
  expect(view.find('p[role=status]').text()).toContain('Open Soil: 400 items so far')
  await vi.waitFor(() => expect(asked.filter((call) => call.path === '/api/jobs').length).toBeGreaterThan(2), 3000)
  await flushPromises()
  expect(view.find('p[role=status]').exists()).toBe(false)
  expect(view.vm.$router.currentRoute.value.path).toContain('/c/7')
})

const PEOPLE = [{ id: 4, name: 'tobin', role: 'reader' }]
const DELETED = [
  { id: 8, label: 'Deleted the pool Texture', by: 'mara', created: '2026-11-20T10:00:00Z', until: '2026-12-20T10:00:00Z', pools: 2, items: 9 },
] // prettier-ignore

async function page(role: string, user: string) {
  return shown(CoursePage, {}, {
    at: '/c/1/course',
    answers: {
      'GET /api/courses/1': { ...COURSE, role },
      'GET /api/session': { user },
      'GET /api/courses/1/people': PEOPLE,
      'GET /api/courses/1/deleted': DELETED,
      'POST /api/courses/1/people': { id: 5, name: 'ines', role: 'reader' },
      'DELETE /api/courses/1/people/4': { done: true },
      'POST /api/courses/1/deleted/8': { done: true },
    },
  }) // prettier-ignore
}

it('lets the owner share the course, and anybody who edits bring things back', async () => {
  const { view, asked } = await page('owner', 'mara')
  await view.find('input[aria-label="Name of an account"]').setValue('ines')
  await nth(view.findAll('form'), 1).trigger('submit')
  await flushPromises()
  expect(asked.find((call) => call.method === 'POST')?.body).toEqual({ name: 'ines', role: 'reader' })
  expect(said.value?.text).toBe('ines reads the course from now on.')
  expect(view.text()).toContain('2 pools, 9 items')
  await sure(view.findAll('button').find((entry) => entry.text() === 'Bring it back')).trigger('click')
  await flushPromises()
  expect(asked.some((call) => call.path === '/api/courses/1/deleted/8')).toBe(true)
  expect(view.find('a[download]').attributes('href')).toBe('/api/courses/1/saved')
})

it('lets a reader look and leave, and nothing else', async () => {
  const { view, asked } = await page('reader', 'tobin')
  const words = view.findAll('button').map((entry) => entry.text())
  expect(words).toEqual(['Leave the course'])
  await view.find('button').trigger('click')
  await flushPromises()
  expect(asked.some((call) => call.method === 'DELETE')).toBe(true)
})

const offer = (id: number, fields: Record<string, unknown>) => ({
  id,
  title: 'Profiles',
  note: '',
  course_name: 'Field Methods 210',
  sender: 'tobin',
  recipient: 'mara',
  mine: false,
  pools: 1,
  items: 7,
  taken: 0,
  state: 'waiting',
  created: '2026-11-01T10:00:00Z',
  source: null,
  course: null,
  ...fields,
})

it('offers what a colleague sent, to be looked at; and tells what became of what one sent', async () => {
  const list = [
    offer(1, { note: 'Yours.' }),
    offer(2, { state: 'declined' }),
    offer(3, { mine: true, recipient: 'tobin', state: 'taken', taken: 5 }),
    offer(4, { mine: true, recipient: 'ines' }),
  ]
  const { view, asked } = await shown(Offers, { course: 1, mayEdit: true }, {
    answers: { 'GET /api/offers': list, 'POST /api/offers/1/look': { id: 'j' }, 'POST /api/offers/4/decline': list[3], 'POST /api/offers/2/reopen': list[1], 'POST /api/offers/4/reopen': list[3] },
  }) // prettier-ignore
  const rows = view.findAll('li').map((row) => row.text().replace(/\s+/g, ' '))
  expect(rows).toHaveLength(4)
  expect(nth(rows, 0)).toContain('tobin offers Profiles: 7 items in 1 pool from Field Methods 210')
  expect(nth(rows, 1)).toContain('you declined it')
  expect(nth(rows, 2)).toContain('to tobin, who took 5 of 7 items')
  expect(nth(rows, 3)).toContain('to ines, who has not looked yet')
  const click = async (words: string) => {
    await sure(view.findAll('button').find((entry) => entry.text() === words)).trigger('click')
    await flushPromises()
  }
  await click('Look at it in Check')
  await click('Take it back')
  sure(said.value?.way).run()
  await click('Undo')
  const done = asked.filter((call) => call.method === 'POST').map((call) => call.path)
  expect(done).toEqual(['/api/offers/1/look', '/api/offers/4/decline', '/api/offers/4/reopen', '/api/offers/2/reopen'])
})

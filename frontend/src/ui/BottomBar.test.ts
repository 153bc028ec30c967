import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { nth, shown, sure } from '@/testing'

import BottomBar from './BottomBar.vue'
import { handleKey } from './shortcuts'

const job = (fields = {}) => ({
  id: 'j',
  work: 'read',
  label: 'Read a.txt',
  state: 'done',
  done: 0,
  total: 1,
  seen: false,
  changes: false,
  problem: null,
  result: {},
  ...fields,
})
const done = (id: number, undone = false) => ({
  id,
  label: `Moved ${id} items`,
  undone,
  created: '2026-09-01T10:00:00Z',
})

const last = (operations: unknown[], more = {}) => ({
  operation: operations.find((entry) => !(entry as { undone: boolean }).undone) ?? null,
  course: 1,
  course_name: 'Soil Science 110',
  still: '',
  ...more,
})

type AnyJob = { state: string; changes: boolean; label: string }
const stillOf = (jobs: unknown[]) =>
  (jobs as AnyJob[]).find((entry) => entry.changes && entry.state === 'waiting')?.label ?? ''

async function bar(jobs: unknown[], operations: unknown[] = []) {
  const answers = {
    'GET /api/courses/1/jobs': jobs,
    'GET /api/operations/last': () => last(operations, { still: stillOf(jobs) }),
    'POST /api/jobs/j/retry': job(),
    'POST /api/jobs/j/seen': job(),
    'POST /api/operations/7/undo': done(7, true),
  }
  const { view, asked } = await shown(BottomBar, {}, { answers })
  const posted = () => asked.filter((call) => call.method === 'POST').map((call) => call.path)
  return { view, posted, text: () => view.text().replace(/\s+/g, ' ') }
}

it('shows how far long work is', async () => {
  const { view, text } = await bar([job({ state: 'running', done: 3, total: 12 }), job({ id: 'k', state: 'waiting' })])
  expect(text()).toContain('Read a.txt: 3 of 12')
  expect(view.find('progress').attributes('value')).toBe('3')
  expect(view.findAll('.turning')).toHaveLength(1)
})

it('says what failed and why, starts it again or puts it away', async () => {
  const problem = { fact: 'It is broken.', place: 'a.txt', way_out: 'Export it again.' }
  const { view, text, posted } = await bar([
    job({ state: 'failed', problem }),
    job({ id: 'old', state: 'failed', seen: true }),
  ])
  expect(view.findAll('.failed')).toHaveLength(1)
  expect(text()).toContain('Read a.txt failed. It is broken. Export it again.')
  for (const button of view.findAll('.failed button')) await button.trigger('click')
  await flushPromises()
  expect(posted()).toEqual(['/api/jobs/j/retry', '/api/jobs/j/seen'])
})

it('undoes what was done last that is not undone, by hand or by key', async () => {
  const { view, text, posted } = await bar([], [done(9, true), done(7), done(6)])
  expect(text()).toContain('Moved 7 items')
  await view.find('.undo button').trigger('click')
  await flushPromises()
  handleKey(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true }))
  await flushPromises()
  expect(posted()).toEqual(['/api/operations/7/undo', '/api/operations/7/undo'])
  expect(nth(view.findAll('[role=status]'), 0).text()).toBe('Undone: Moved 7 items.')
})

it('undoes nothing by key while the last that was asked for is still being done', async () => {
  const jobs: unknown[] = [job({ state: 'running' })]
  const { posted, view } = await bar(jobs, [done(7)])
  jobs.push(job({ id: 'k', label: 'Left out 900', state: 'waiting', changes: true }))
  handleKey(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true }))
  await flushPromises()
  expect(posted()).toEqual([])
  expect(view.text()).toContain('Left out 900 is still being done.')
})

it('undoes by key what the server did last, though the page was not told of it yet', async () => {
  const operations = [done(6)]
  const { posted, text } = await bar([], operations)
  operations.unshift(done(7))
  expect(text()).toContain('Moved 6 items')
  handleKey(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true }))
  await flushPromises()
  expect(posted()).toEqual(['/api/operations/7/undo'])
})

it('offers nothing to undo where nothing was done', async () => {
  const { view } = await bar([])
  expect(view.find('.undo').exists()).toBe(false)
  expect(sure(view.element).textContent).not.toContain('failed')
})

it('offers to undo what nobody touched, where the whole cannot be undone', async () => {
  const refusal = { fact: 'Somebody built on it.', place: '', way_out: 'Ask tobin.', keys: 0, rest: 3 }
  const refused = () =>
    new Response(JSON.stringify(refusal), { status: 409, headers: { 'Content-Type': 'application/json' } })
  const { view, asked } = await shown(
    BottomBar,
    {},
    {
      answers: {
        'GET /api/courses/1/jobs': [],
        'GET /api/operations/last': last([done(7)]),
        'POST /api/operations/7/undo': vi.fn().mockImplementationOnce(refused).mockReturnValue(done(7, true)),
      },
    },
  )
  await view.find('.undo button').trigger('click')
  await flushPromises()
  expect(view.text()).toContain('Somebody built on it. Ask tobin.')
  await view.find('button.way').trigger('click')
  await flushPromises()
  expect(view.text()).toContain('Undone: Moved 7 items.')
  expect(asked.filter((call) => call.method === 'POST')).toHaveLength(2)
  expect(view.find('button.way').exists()).toBe(false)
})

it('says in which course it undoes what was done in another one', async () => {
  const answers = {
    'GET /api/courses/1/jobs': [],
    'GET /api/operations/last': last([done(7)], { course: 2, course_name: 'Field Methods 210' }),
    'POST /api/operations/7/undo': done(7, true),
  }
  const { view } = await shown(BottomBar, {}, { answers })
  expect(view.find('.undo').text()).toContain('In Field Methods 210: Moved 7 items')
  handleKey(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true }))
  await flushPromises()
  expect(view.text()).toContain('Undone in Field Methods 210: Moved 7 items.')
})

it('tells of many failures in one line, and removes them all at once', async () => {
  const failures = [1, 2, 3].map((n) => job({ id: 'j', label: `Read ${n}.txt`, state: 'failed' }))
  const { view, text, posted } = await bar(failures)
  expect(view.findAll('.failed')).toHaveLength(1)
  expect(text()).toContain('3 things failed.')
  await view.find('.failed button').trigger('click')
  await flushPromises()
  expect(posted()).toEqual(['/api/jobs/j/seen', '/api/jobs/j/seen', '/api/jobs/j/seen'])
})

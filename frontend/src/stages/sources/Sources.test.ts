import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { nth, shown, source, sure } from '@/testing'

import Sources from './Sources.vue'

const LIST = 'GET /api/courses/1/sources'
const words = (text: string) => text.replace(/\s+/g, ' ')
const problem = { fact: 'It is a list of 2 keys.', place: '', way_out: '', keys: 2, rest: 0 }

it('says what to do where there is nothing yet, and what went wrong where that is so', async () => {
  const { view } = await shown(Sources, {}, { answers: { [LIST]: [] } })
  expect(view.text()).toContain('No sources yet')
  const { view: failed } = await shown(Sources)
  expect(words(failed.find('[role=alert]').text())).toBe('It is not there. Look elsewhere.')
})

it('joins keys to a test and parts them, by what the server offers for it', async () => {
  const sources = [
    source({ id: 4, name: 'week-2 key.txt', reading: null, items: 0, document: false, problem, likely_test: 3 }),
    source({ id: 3, keys_from: ['old key.txt'] }),
    source({ id: 5, name: 'bank.zip', document: false }),
  ]
  const job = { id: 'j', state: 'waiting' }
  const answers = { [LIST]: sources, 'POST /api/sources/4/keys': job, 'DELETE /api/sources/3/keys': job }
  const { view, asked } = await shown(Sources, {}, { answers })
  expect(view.findAll('form option').map((option) => option.text())).toEqual(['week-2.docx'])
  await view.find('form.join').trigger('submit')
  await flushPromises()
  await sure(view.findAll('button').find((button) => button.text() === 'Part them')).trigger('click')
  await flushPromises()
  expect(asked.filter((call) => call.method !== 'GET').map(({ method, path, body }) => [method, path, body])).toEqual([
    ['POST', '/api/sources/4/keys', { test: 3 }],
    ['DELETE', '/api/sources/3/keys', undefined],
  ])
})

it('reads a source again when another count is expected, and puts one away', async () => {
  const answers = { [LIST]: [source()], 'POST /api/sources/3/read': { id: 'j' }, 'DELETE /api/sources/3': { count: 1 } }
  const { view, asked } = await shown(Sources, {}, { answers })
  await view.find('input.expected').setValue('8')
  await view.find('button[aria-label="Put away week-2.docx"]').trigger('click')
  await flushPromises()
  const read = sure(asked.find((call) => call.path === '/api/sources/3/read'))
  expect(read.body).toEqual({ expected: 8, format: null })
  expect(asked.some((call) => call.method === 'DELETE')).toBe(true)
})

it('sends the files that were picked, and a text that was dropped', async () => {
  const answers = { [LIST]: [], 'POST /api/courses/1/sources': [], 'POST /api/courses/1/sources/paste': { id: 'j' } }
  const { view, asked } = await shown(Sources, {}, { answers })
  const field = view.find('input[type=file]')
  Object.defineProperty(field.element, 'files', { value: [new File(['x'], 'a.txt')] })
  await field.trigger('change')
  const data: Record<string, string> = { 'text/plain': '1. Which?', 'text/html': '<p>1. Which?</p>' }
  await view
    .find('.drop')
    .trigger('drop', { dataTransfer: { items: [], files: [], getData: (kind: string) => data[kind] } })
  await flushPromises()
  const posted = asked.filter((call) => call.method === 'POST')
  expect(posted.map((call) => call.path)).toEqual(['/api/courses/1/sources', '/api/courses/1/sources/paste'])
  expect(nth(posted, 1).body).toMatchObject({ text: '1. Which?', html: '<p>1. Which?</p>' })
})

import { expect, it } from 'vitest'

import { shown, source } from '@/testing'

import SourceRow from './SourceRow.vue'

const row = (fields = {}, tests: unknown[] = []) => shown(SourceRow, { source: source(fields), course: 1, tests })
const words = (text: string) => text.replace(/\s+/g, ' ')

it('says what a source is, how many items it has of which types, and leads to its reading', async () => {
  const { view } = await row({ worst: { error: 1, warning: 2 }, unclaimed: 3, kind: 'paste' })
  const text = words(view.text())
  for (const part of [
    'Word document',
    '12 kB, pasted',
    '5 multiple choice, 1 essay',
    '1 with errors',
    '2 with warnings',
    '3 unclaimed',
    'Check 6',
  ])
    expect(text).toContain(part)
  expect(view.find('a').attributes('href')).toBe('/c/1/check/5')
})

it('says where the count is not what was expected, and takes what is', async () => {
  const { view } = await row({ expected: 8 })
  expect(view.text()).toContain('count differs')
  const field = view.find('input.expected')
  await field.setValue('6')
  await field.setValue(' ')
  expect(view.emitted('expect')).toEqual([[6], [null]])
})

it('says that all is taken, or that nothing needs a look', async () => {
  const { view } = await row({ waiting: 0 })
  expect(words(view.text())).toContain('nothing')
  expect(view.text()).toContain('all taken')
})

it('shows why a source cannot be read, with the ways out', async () => {
  const problem = { fact: 'a.xml is broken.', place: '', way_out: 'Export it again.', keys: 0 }
  const { view } = await row({ reading: null, problem })
  expect(view.text()).toContain('a.xml is broken. Export it again.')
  expect(view.find('form').exists()).toBe(false)
  for (const button of view.findAll('button')) await button.trigger('click')
  expect(view.emitted('again')).toHaveLength(1)
  expect(view.emitted('remove')).toHaveLength(1)
})

it('joins a list of keys to the likeliest test, or to another', async () => {
  const problem = { fact: 'It is a list of 2 keys.', place: '', way_out: '', keys: 2 }
  const tests = [source({ id: 8, name: 'week-3.docx' }), source({ id: 9, name: 'week-2.docx' })]
  const { view } = await row({ name: 'week-2 key.txt', reading: null, problem, likely_test: 9 }, tests)
  await view.find('form').trigger('submit')
  await view.find('select').setValue('8')
  await view.find('form').trigger('submit')
  expect(view.emitted('join')).toEqual([[9], [8]])
})

it('asks for the test where names do not say which it is', async () => {
  const problem = { fact: 'It is a list of 2 keys.', place: '', way_out: '', keys: 2 }
  const { view } = await row({ reading: null, problem }, [source({ id: 8 }), source({ id: 9 })])
  expect(view.find('form button').attributes('disabled')).toBeDefined()
  await view.find('form').trigger('submit')
  expect(view.emitted('join')).toBeUndefined()
  await view.find('select').setValue('9')
  await view.find('form').trigger('submit')
  expect(view.emitted('join')).toEqual([[9]])
})

it('names the keys that a test is read with, and parts them', async () => {
  const { view } = await row({ keys_from: ['week-2 key.txt'] })
  expect(words(view.text())).toContain('with the keys of week-2 key.txt')
  await view.find('.name button').trigger('click')
  expect(view.emitted('part')).toHaveLength(1)
})

it('waits for a source that is being read', async () => {
  const { view } = await row({ reading: null })
  expect(view.text()).toContain('Being read…')
})

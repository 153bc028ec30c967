import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'

import { nth, shown, sure } from '@/testing'

import TextWithRoles from './TextWithRoles.vue'

const line = (number: number, role: string, fields = {}) => ({
  number,
  role,
  name: `n${number}`,
  item: 1,
  level: '',
  message: '',
  ...fields,
})
const PREVIEW = {
  items: 1,
  flagged: 1,
  lines: [
    line(1, 'stem', { level: 'error', message: 'No choice is marked correct.' }),
    line(2, 'choice'),
    line(3, 'choice ✓'),
  ],
}
const TEXT = '1. Which?\na. clay\n*b. sand'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

async function box(props: Record<string, unknown> = {}) {
  const { view, asked } = await shown(
    TextWithRoles,
    { course: 1, label: 'Text of the test', height: '300px', modelValue: TEXT, roles: {}, ...props },
    { answers: { 'POST /api/courses/1/sources/preview': PREVIEW } },
  )
  await vi.advanceTimersByTimeAsync(400)
  await flushPromises()
  return { view, asked, field: view.find('textarea') }
}

it('shows beside each line what it is read as, and sums up', async () => {
  const { view } = await box()
  expect(view.findAll('.gutter .role').map((role) => role.text())).toEqual(['stem', 'choice', 'choice ✓'])
  expect(view.find('.sum').text().replace(/\s+/g, ' ')).toContain('1 item so far, 1 to look at')
  expect(nth(view.findAll('.gutter .row'), 0).classes('error')).toBe(true)
})

it('leads to the first line that is queried', async () => {
  const { view, field } = await box()
  await view.find('.sum .link-button').trigger('click')
  expect(document.activeElement).toBe(field.element)
  expect((field.element as HTMLTextAreaElement).selectionStart).toBe(0)
})

it('takes Alt and a digit for what the line at the cursor is, and Alt 0 back', async () => {
  const { view, field } = await box({ roles: { n1: 'stem' } })
  ;(field.element as HTMLTextAreaElement).setSelectionRange(12, 12)
  await field.trigger('keydown', { key: '6', code: 'Digit6', altKey: true })
  expect(nth(view.emitted('update:roles'), -1)).toEqual([{ n1: 'stem', n2: 'aside' }])
  await field.trigger('keydown', { key: '6', code: 'Digit6' })
  expect(view.emitted('update:roles')).toHaveLength(1)
})

it('asks once for what was typed in one go, with the roles said by hand', async () => {
  const { view, asked, field } = await box({ roles: { n2: 'aside' } })
  const before = asked.length
  for (const text of ['1', '1.', '1. W']) await field.setValue(text)
  await view.setProps({ modelValue: '1. W' })
  await vi.advanceTimersByTimeAsync(400)
  expect(asked).toHaveLength(before + 1)
  expect(sure(asked.at(-1)).body).toEqual({ text: '1. W', roles: { n2: 'aside' }, format: 'marked-text' })
})

it('hands over the formatted paste into an empty box only', async () => {
  const paste = { clipboardData: { getData: () => '<b>1. Which?</b>' } }
  const { view, field } = await box({ modelValue: '' })
  await field.trigger('paste', paste)
  const filled = await box()
  await filled.field.trigger('paste', paste)
  expect(view.emitted('formatted')).toEqual([['<b>1. Which?</b>']])
  expect(filled.view.emitted('formatted')).toBeUndefined()
})

import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { nth, reading, shown, sure } from '@/testing'

import AccountingDialog from './AccountingDialog.vue'
import ColumnsDialog from './ColumnsDialog.vue'
import KeyHabit from './KeyHabit.vue'

const READ = { 'POST /api/sources/3/read': { id: 'j', state: 'done', result: { reading: 6 } } }
const bodyText = () => document.body.textContent ?? ''

it('reads again with another habit of showing the key', async () => {
  const message = 'The key is shown by bold type: 38 of 40 items.'
  const { view, asked } = await shown(
    KeyHabit,
    { course: 1, reading: reading({ key_found: message }) },
    { answers: READ },
  )
  expect(view.find('label').attributes('title')).toBe(message)
  await view.find('select').setValue('bold')
  await flushPromises()
  expect(asked.map((call) => call.body)).toEqual([{ expected: null, format: null, options: { key_habit: 'bold' } }])
})

it('changes what a column is, and only that', async () => {
  const columns = [
    { table: '', heading: 'question', meaning: 'stem', sample: 'Which?' },
    { table: '', heading: 'worth', meaning: 'metadata', sample: '2' },
  ]
  const props = { course: 1, reading: reading({ columns }), modelValue: true }
  const { asked } = await shown(ColumnsDialog, props, { answers: READ })
  const buttons = [...document.querySelectorAll<HTMLButtonElement>('.el-dialog__footer button')]
  expect(nth(buttons, 1).disabled).toBe(true)
  const worth = sure(document.querySelector<HTMLSelectElement>('select[aria-label="What worth is"]'))
  worth.value = 'points'
  worth.dispatchEvent(new Event('change'))
  await flushPromises()
  expect(nth(buttons, 1).textContent).toContain('with 1 change')
  nth(buttons, 1).click()
  await flushPromises()
  expect(asked.map((call) => call.body)).toEqual([
    { expected: null, format: null, options: { columns: { worth: 'points' } } },
  ])
})

it('lists what nothing claimed, and says where nothing was left', async () => {
  const unclaimed = [{ where: 'line 3', text: 'Harrow Vale College' }]
  await shown(AccountingDialog, { modelValue: true, reading: reading({ unclaimed }) })
  expect(bodyText()).toContain('Harrow Vale College')
  document.body.innerHTML = ''
  await shown(AccountingDialog, { modelValue: true, reading: reading() })
  expect(bodyText()).toContain('12 pieces')
  expect(bodyText()).toContain('Nothing was left over')
})

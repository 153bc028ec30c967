import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import type { Schemas } from '@/api/client'
import { nth, reading, shown, sure } from '@/testing'

import AccountingDialog from './AccountingDialog.vue'
import ColumnsDialog from './ColumnsDialog.vue'
import HowRead from './HowRead.vue'

const READ = { 'POST /api/sources/3/read': { id: 'j', state: 'done', result: { reading: 6 } } }
const bodyText = () => document.body.textContent ?? ''

const HABITS: Schemas['HabitOut'][] = [
  {
    about: 'numbering',
    found: '{n}.',
    said: '',
    words: '40 questions, numbered as 1.',
    others: [['{a})', 'a)']],
  },
  { about: 'lettering', found: '{a})', said: '', words: '38 with choices, labelled as a)', others: [] },
]

async function howRead(fields: Partial<Schemas['ReadingOut']> = {}) {
  const props = { course: 1, modelValue: true, reading: reading({ habits: HABITS, ...fields }) }
  return shown(HowRead, props, { answers: READ })
}

const choose = async (label: string, value: string) => {
  const select = sure(document.querySelector<HTMLSelectElement>(`select[aria-label^="${label}"]`))
  select.value = value
  select.dispatchEvent(new Event('change'))
  await flushPromises()
}

it('tells how a document was read, and reads it again with what is said instead', async () => {
  const { asked } = await howRead({ key_found: 'The key is shown by bold type: 38 of 40 items.' })
  expect(bodyText()).toContain('40 questions, numbered as 1.')
  expect(bodyText()).toContain('38 of 40 items')
  await choose('Questions', '{a})')
  await choose('Key', 'bold')
  expect(asked.map((call) => (call.body as { options: unknown }).options)).toEqual([
    { numbering: '{a})' },
    { key_habit: 'bold' },
  ])
})

it('reads the lines that were said by hand as they were found', async () => {
  const { asked } = await howRead({ roles: { aa: 'stem', bb: 'choice' } })
  const link = sure([...document.querySelectorAll<HTMLButtonElement>('dd .link-button')][0])
  expect(bodyText()).toContain('2 lines are read as you said')
  link.click()
  await flushPromises()
  expect(asked.map((call) => (call.body as { options: unknown }).options)).toEqual([{ roles: {} }])
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

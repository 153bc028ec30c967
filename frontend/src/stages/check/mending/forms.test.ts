import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import { cell, nth, reading, shown, sure } from '@/testing'
import { said } from '@/ui/say'

import OutcomesForm from './OutcomesForm.vue'
import PicturesForm from './PicturesForm.vue'
import TwinsForm from './TwinsForm.vue'

const TWINS = 'GET /api/readings/5/twins'
const FOUND = {
  doubled: [
    { positions: [1, 3], same_key: true },
    { positions: [2, 4], same_key: false },
  ],
  languages: [
    { language: 'English', positions: [1, 2] },
    { language: 'German', positions: [3, 4] },
  ],
}
async function twins(answer: unknown) {
  const cells = [1, 2, 3, 4].map((position) => cell(position))
  const props = { course: 1, reading: reading({ cells }), busy: false }
  const { view } = await shown(TwinsForm, props, { answers: { [TWINS]: answer } })
  await flushPromises()
  const press = (words: string) => sure(view.findAll('button').find((entry) => entry.text() === words)).trigger('click')
  return { view, press }
}

it('leaves out what is in another language, or puts it apart', async () => {
  const { view, press } = await twins(FOUND)
  await press('Keep German only')
  await press('Put English into a pool of its own')
  expect(view.emitted('leaveOut')).toEqual([[[1, 2]]])
  expect(view.emitted('apart')).toEqual([[[1, 2], 'English']])
})

it('keeps the first of doubles at once only where their keys agree; where they differ, one by one', async () => {
  const { view, press } = await twins(FOUND)
  await press('Keep the first of each')
  await press('keep 4')
  await press('Put the others into a pool of their own')
  expect(view.emitted('leaveOut')).toEqual([[[3]], [[2]]])
  expect(view.emitted('apart')).toEqual([[[3], 'Doubles']])
  expect(view.findAll('tr').map((row) => nth(row.findAll('td'), 2).text())).toEqual(['same key', 'the keys differ'])
})

it('says where no item stands twice', async () => {
  const { view } = await twins({ doubled: [], languages: [] })
  expect(view.text()).toBe('No item stands twice, and all are in one language.')
})

const COURSE = {
  id: 1,
  name: 'Soils',
  outcomes: [
    { code: '2.1', text: 'Name' },
    { code: '2.2', text: '' },
  ],
}
async function outcomes() {
  const answers = { 'GET /api/courses/1': COURSE, 'PUT /api/courses/1/outcomes': COURSE }
  const props = { course: 1, pools: [['Texture'], ['Colour', 'Hue'], []], modelValue: undefined }
  const { view, asked } = await shown(OutcomesForm, props, { answers })
  await flushPromises()
  return { view, asked, wish: () => view.emitted('update:modelValue')?.at(-1)?.[0] }
}

it('wishes for outcomes by number as soon as there is a list', async () => {
  const { view, wish } = await outcomes()
  const field = view.find('textarea[aria-label="Outcomes by number"]')
  await field.setValue('1–5: 2.1')
  await view.find('input[type=checkbox]').setValue(true)
  expect(wish()).toEqual({ kind: 'outcomes-by-number', text: '1–5: 2.1', replace: true })
  await field.setValue('  ')
  expect(wish()).toBeUndefined()
})

it('wishes for outcomes of the chapters that were given any', async () => {
  const { view, wish } = await outcomes()
  await nth(view.findAll('input[type=radio]'), 1).setValue(true)
  await view.find('input[aria-label="Outcomes of Colour / Hue"]').setValue('2.1, ;2.2 ')
  expect(wish()).toEqual({
    kind: 'outcomes-by-chapter',
    table: [
      [
        ['Colour', 'Hue'],
        ['2.1', '2.2'],
      ],
    ],
    replace: false,
  })
})

it('keeps the list of the course as it stands in the field', async () => {
  const { view, asked } = await outcomes()
  const field = view.find<HTMLTextAreaElement>('textarea[aria-label="Outcomes of the course"]')
  expect(field.element.value).toBe('2.1\tName\n2.2')
  await field.setValue('2.1\tName\n2.3\tTell')
  await sure(view.findAll('button').find((entry) => entry.text() === 'Keep this list')).trigger('click')
  await flushPromises()
  expect(asked.find((call) => call.method === 'PUT')?.body).toEqual({ text: '2.1\tName\n2.3\tTell' })
})

it('matches dropped pictures by name, and says what went wrong where they are refused', async () => {
  const files = [new File(['x'], 'core.png', { type: 'image/png' })]
  const answers = { 'POST /api/courses/1/media': [{ name: 'core.png', ref: 'media/ab', type: 'image/png' }] }
  const taken = await shown(PicturesForm, { course: 1, modelValue: undefined }, { answers })
  await taken.view.find('.drop').trigger('drop', { dataTransfer: { files } })
  await flushPromises()
  expect(taken.view.emitted('update:modelValue')?.at(-1)).toEqual([
    { kind: 'pictures', files: { 'core.png': 'media/ab' } },
  ])
  expect(taken.view.text()).toContain('core.png')

  const refused = await shown(PicturesForm, { course: 1, modelValue: undefined })
  await refused.view.find('.drop').trigger('drop', { dataTransfer: { files } })
  await flushPromises()
  expect(refused.view.emitted('update:modelValue')).toBeUndefined()
  expect(said.value).toMatchObject({ level: 'problem', text: expect.stringContaining('It is not there.') as string })
})

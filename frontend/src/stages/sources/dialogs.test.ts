import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'

import TextDialog from '@/stages/check/TextDialog.vue'
import { nth, reading, shown, sure } from '@/testing'

import PasteDialog from './PasteDialog.vue'
import TextWithRoles from './TextWithRoles.vue'

const ANSWERS = {
  'POST /api/courses/1/sources/preview': { items: 1, flagged: 0, lines: [] },
  'POST /api/courses/1/sources/paste': { id: 'j' },
  'GET /api/readings/5/text': { text: '1. Which?\na. clay', reading: 5 },
  'PUT /api/readings/5/text': { text: '', reading: 9 },
}
const footer = () => [...document.querySelectorAll<HTMLButtonElement>('.el-dialog__footer button')]

async function paste() {
  const { view, asked } = await shown(PasteDialog, { modelValue: true, course: 1 }, { answers: ANSWERS })
  const box = view.findComponent(TextWithRoles)
  const sent = async () => {
    nth(footer(), 1).click()
    await flushPromises()
    return asked.filter((call) => call.path.endsWith('/paste')).at(-1)?.body
  }
  return { view, box, sent }
}

it('sends a pasted text with its name, its count and what was said by hand, and forgets it then', async () => {
  const { view, box, sent } = await paste()
  expect(nth(footer(), 1).disabled).toBe(true)
  box.vm.$emit('update:modelValue', '1. Which?')
  box.vm.$emit('update:roles', { n1: 'stem' })
  await flushPromises()
  const fields = [...document.querySelectorAll<HTMLInputElement>('.fields input')]
  nth(fields, 1).value = '4'
  nth(fields, 1).dispatchEvent(new Event('input'))
  expect(await sent()).toEqual({ text: '1. Which?', html: '', roles: { n1: 'stem' }, name: '', expected: 4 })
  expect(view.emitted('done')).toHaveLength(1)
  expect(box.props('modelValue')).toBe('')
})

it('sends the formatting along unless that is not wanted', async () => {
  const { box, sent } = await paste()
  box.vm.$emit('update:modelValue', '1. Which?')
  box.vm.$emit('formatted', '<b>1. Which?</b>')
  await flushPromises()
  const keep = sure(document.querySelector<HTMLInputElement>('.formatted input'))
  expect(keep.checked).toBe(true)
  keep.checked = false
  keep.dispatchEvent(new Event('change'))
  expect(await sent()).toMatchObject({ html: '' })
})

it('corrects the text of a source from where its item begins, and reads it again', async () => {
  const props = { modelValue: true, course: 1, reading: reading({ is_text: true, roles: { n1: 'stem' } }), first: 2 }
  const { view, asked } = await shown(TextDialog, props, { answers: ANSWERS })
  await flushPromises()
  const field = sure(document.querySelector('textarea'))
  expect([field.value, field.selectionStart]).toEqual(['1. Which?\na. clay', 10])
  nth(footer(), 1).click()
  await flushPromises()
  expect(sure(asked.find((call) => call.method === 'PUT')).body).toEqual({
    text: '1. Which?\na. clay',
    roles: { n1: 'stem' },
  })
  expect(view.emitted('done')).toEqual([[9]])
})

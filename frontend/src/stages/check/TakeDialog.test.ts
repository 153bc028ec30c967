import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, it } from 'vitest'

import { nth, reading, shown, sure } from '@/testing'

import TakeDialog from './TakeDialog.vue'

const ANSWERS = {
  'GET /api/courses/1/pools': [],
  'POST /api/readings/5/names': {
    pools: [{ path: ['Soil 110', 'Chapter 2'], items: 4, sources: ['a'], new: true }],
    items: 4,
    sources: 1,
    stays: 0,
    notes: ['{number} has no value for “Tides”: it is left out there.'],
  },
  'POST /api/readings/5/take': { id: 'j' },
}
beforeEach(() => localStorage.clear())

async function dialog(sound: number) {
  const props = { course: 1, reading: reading(), position: 3, waiting: 6, sound, modelValue: false }
  const { view, asked } = await shown(TakeDialog, props, { answers: ANSWERS })
  await view.setProps({ modelValue: true })
  await flushPromises()
  const radios = () => [...document.querySelectorAll<HTMLInputElement>('input[type=radio]')]
  const take = async () => {
    nth([...document.querySelectorAll<HTMLButtonElement>('.el-dialog__footer button')], 1).click()
    await flushPromises()
    return sure(asked.find((call) => call.path.endsWith('/take'))).body
  }
  return { view, asked, radios, take }
}

it('takes the sound ones where some are not, and says into which pools', async () => {
  const { view, radios, take } = await dialog(4)
  expect(radios().map((radio) => radio.checked)).toEqual([false, true, false])
  expect(document.querySelector('.el-dialog__footer')?.textContent?.replace(/\s+/g, ' ')).toContain(
    'Take 4 items into Soil 110 / Chapter 2',
  )
  expect(document.querySelector('.el-dialog')?.textContent).toContain('{number} has no value for “Tides”')
  expect(await take()).toMatchObject({ which: 'sound', positions: [], duplicates_too: false })
  expect(view.emitted('done')).toHaveLength(1)
})

it('takes all where all are sound, or none is', async () => {
  expect((await dialog(6)).radios().map((radio) => radio.checked)).toEqual([true, false, false])
  document.body.innerHTML = ''
  expect((await dialog(0)).radios().map((radio) => radio.checked)).toEqual([true, false, false])
})

it('takes one item alone, and asks anew what the pools will be called', async () => {
  const { asked, radios, take } = await dialog(6)
  const one = nth(radios(), 2)
  one.checked = true
  one.dispatchEvent(new Event('change'))
  await flushPromises()
  expect(asked.filter((call) => call.path.endsWith('/names')).at(-1)?.body).toMatchObject({
    which: 'chosen',
    positions: [3],
  })
  expect(await take()).toMatchObject({ which: 'chosen', positions: [3] })
})

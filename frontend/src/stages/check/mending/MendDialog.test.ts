import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { cell, reading, shown, sure } from '@/testing'

import MendDialog from './MendDialog.vue'
import { numberOf } from './wishes'

const PLAN = {
  changes: [{ position: 2, before: '100 points', after: '1 point', shown: '' }],
  unmet: ['No item has 3 points.'],
}
const body = () => sure(document.querySelector('.el-dialog'))
/** Waits for what the dialog asks for a moment after it was typed. */
const until = (shown: () => void) => vi.waitFor(shown, 20_000)
async function dialog(answers: Record<string, unknown> = {}) {
  const props = {
    course: 1,
    modelValue: true,
    position: 1,
    reading: reading({
      cells: [cell(1, '', { points: 100 }), cell(2, '', { points: 100, advice: ['for-paper'] })],
      pools: [['Chapter 2']],
    }),
  }
  const made = {
    'POST /api/readings/5/mend/preview': PLAN,
    'POST /api/readings/5/mend': { count: 1 },
    'POST /api/readings/5/drop': { count: 1 },
    ...answers,
  }
  return shown(MendDialog, props, { answers: made })
}
const press = async (words: string) => {
  const button = [...body().querySelectorAll('button')].find((entry) => entry.textContent?.includes(words))
  sure(button).click()
  await flushPromises()
}

it('shows each change before it is made, and what cannot be done', async () => {
  const { view, asked } = await dialog()
  await until(() => expect(body().textContent).toContain('100 points'))
  expect(body().textContent).toContain('No item has 3 points.')
  await press('Change 1 item')
  const wish = { kind: 'points-ratio', was: 100, becomes: 1 }
  expect(asked.at(-1)?.body).toEqual({ wish, positions: null, path: null })
  expect(view.emitted('done')).toHaveLength(1)
})

it('says why a wish cannot be understood', async () => {
  await dialog({ 'POST /api/readings/5/mend/preview': undefined })
  const status = () => body().querySelector('[role=status]')?.textContent
  await until(() => expect(status()).toContain('It is not there. Look elsewhere.'))
})

it('takes a list of keys as it is pasted', async () => {
  const { asked } = await dialog()
  await press('Keys from a list')
  const field = sure(body().querySelector('textarea'))
  field.value = '1 C 2 A'
  field.dispatchEvent(new Event('input'))
  await until(() => expect(asked.at(-1)?.body).toMatchObject({ wish: { kind: 'keys', text: '1 C 2 A' } }))
})

it('leaves out what cannot be answered on a screen', async () => {
  const { asked } = await dialog()
  await press('Not for a screen')
  await press('Leave them out')
  expect(asked.at(-1)).toMatchObject({ path: '/api/readings/5/drop', body: { positions: [2], dropped: true } })
})

it('reads numbers with a comma or a point', () => {
  expect(['1,5', ' 2 ', 'x', ''].map(numberOf)).toEqual([1.5, 2, undefined, undefined])
})

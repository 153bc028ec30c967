import { expect, it } from 'vitest'
import { reactive } from 'vue'

import { item, nth, shown, sure } from '@/testing'

import NumberAnswers from './NumberAnswers.vue'
import PairsFields from './PairsFields.vue'
import { NEW_NUMBER, type MatchingItem, type NumericAnswer } from './types'

async function numbers(...held: Partial<NumericAnswer>[]) {
  const answers = reactive(held.map((fields) => ({ ...NEW_NUMBER(), ...fields })))
  const { view } = await shown(NumberAnswers, { modelValue: answers })
  const press = (words: string) => sure(view.findAll('button').find((entry) => entry.text() === words)).trigger('click')
  return { answers, press }
}

it('turns a value into the range that its tolerance makes, and back, with what it earns', async () => {
  const { answers, press } = await numbers({ value: 25, tolerance: 0.5, weight: 0.5, feedback: 'Near.' })
  await press('as a range')
  expect(answers[0]).toMatchObject({ value: null, min: 24.5, max: 25.5, weight: 0.5, feedback: 'Near.' })
  await press('as a value')
  expect(answers[0]).toMatchObject({ value: 25, tolerance: 0.5, weight: 0.5, feedback: 'Near.' })
  expect([answers[0]?.min, answers[0]?.max]).toEqual([undefined, undefined])
})

it('turns a range that is open into the value of the bound it has', async () => {
  const { answers, press } = await numbers({ value: null, tolerance: null, min: 3 })
  await press('as a value')
  expect(answers[0]).toMatchObject({ value: 3, tolerance: 0 })
})

it('adds a number to those that are accepted', async () => {
  const { answers, press } = await numbers({ value: 1 })
  await press('Add a number')
  expect(answers).toHaveLength(2)
})

async function pairs(fields: Partial<MatchingItem> = {}) {
  const held = [
    { left: 'sand', right: 'coarse' },
    { left: 'clay', right: 'fine' },
  ]
  const made = reactive(item({ type: 'matching', pairs: held, distractors: [], shuffle: null, ...fields } as never))
  const draft = made as unknown as MatchingItem
  const { view } = await shown(PairsFields, { modelValue: draft })
  return { view, draft }
}

it('gives each pair its own share, even ones at first, and takes them away', async () => {
  const { view, draft } = await pairs()
  const box = view.find('input[type=checkbox]')
  await box.setValue(true)
  expect(draft.pairs?.map((pair) => pair.share)).toEqual([0.5, 0.5])
  await box.setValue(false)
  expect(draft.pairs?.map((pair) => 'share' in pair)).toEqual([false, false])
})

it('says whether the order is mixed, or leaves it to the quiz', async () => {
  const { view, draft } = await pairs()
  const order = view.find('select[aria-label="Order of the pairs"]')
  for (const [said, held] of [
    ['true', true],
    ['false', false],
    ['', null],
  ] as const) {
    await order.setValue(said)
    expect(draft.shuffle).toBe(held)
  }
})

it('moves a pair, takes one out, and adds rights that have no partner', async () => {
  const { view, draft } = await pairs()
  const press = (words: string) => sure(view.findAll('button').find((entry) => entry.text() === words)).trigger('click')
  await press('Add a right without a partner')
  await press('Add a pair')
  expect([draft.pairs?.length, draft.distractors]).toEqual([3, ['']])
  await press('↓Move pair 1 down')
  expect(nth(draft.pairs, 0).left).toBe('clay')
})

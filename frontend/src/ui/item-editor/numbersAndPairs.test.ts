import { flushPromises } from '@vue/test-utils'
import { expect, it } from 'vitest'
import { reactive } from 'vue'

import { item, nth, shown, sure } from '@/testing'

import { said } from '../say'

import NumberAnswers from './NumberAnswers.vue'
import PairsFields from './PairsFields.vue'
import { NEW_NUMBER, type MatchingItem, type NumericAnswer } from './types'

async function numbers(held: Partial<NumericAnswer>, turned?: Partial<NumericAnswer>) {
  const answers = reactive([{ ...NEW_NUMBER(), ...held }])
  const given = turned && { answer: { ...NEW_NUMBER(), ...turned } }
  const made = await shown(NumberAnswers, { modelValue: answers }, { answers: { 'POST /api/item-number': given } })
  const press = async (words: string) => {
    await sure(made.view.findAll('button').find((entry) => entry.text() === words)).trigger('click')
    await flushPromises()
  }
  return { answers, press, asked: made.asked }
}

it('turns a value into a range as the core says', async () => {
  const range = { value: null, tolerance: null, min: 24.5, max: 25.5, weight: 0.5 }
  const { answers, press, asked } = await numbers({ value: 25, tolerance: 0.5, weight: 0.5 }, range)
  await press('as a range')
  expect(asked.at(-1)?.body).toMatchObject({ answer: { value: 25, tolerance: 0.5, weight: 0.5 } })
  expect(answers[0]).toMatchObject(range)
})

it('leaves a range that no value stands for, and says why', async () => {
  const { answers, press } = await numbers({ value: null, tolerance: null, min: 3 })
  await press('as a value')
  expect(answers[0]).toMatchObject({ value: null, min: 3 })
  expect(said.value?.text).toContain('It is not there.')
})

it('adds a number to those that are accepted', async () => {
  const { answers, press } = await numbers({ value: 1 })
  await press('Add a number')
  expect(answers).toHaveLength(2)
})

const HELD = [
  { left: 'sand', right: 'coarse' },
  { left: 'clay', right: 'fine' },
]
async function pairs(answered: { left: string; right: string; share?: number }[] = HELD) {
  const made = reactive(
    item({ type: 'matching', pairs: HELD.map((pair) => ({ ...pair })), distractors: [], shuffle: null } as never),
  )
  const draft = made as unknown as MatchingItem
  const answers = { 'POST /api/item-shares': { item: { ...draft, pairs: answered } } }
  const { view, asked } = await shown(PairsFields, { modelValue: draft }, { answers })
  return { view, draft, asked }
}

it('gives each pair its own share as the core says', async () => {
  const { view, draft, asked } = await pairs(HELD.map((pair) => ({ ...pair, share: 0.5 })))
  await view.find('input[type=checkbox]').setValue(true)
  await flushPromises()
  expect(asked.at(-1)?.body).toMatchObject({ own: true, item: { pairs: HELD } })
  expect(draft.pairs?.map((pair) => pair.share)).toEqual([0.5, 0.5])
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

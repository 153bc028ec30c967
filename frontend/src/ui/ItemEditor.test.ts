import { expect, it } from 'vitest'

import { item, nth, shown, sure } from '@/testing'

import ItemEditor from './ItemEditor.vue'

const choices = () => [
  { id: 'a', content: 'clay', weight: 1, feedback: null },
  { id: 'b', content: 'sand', weight: 0, feedback: null },
  { id: 'c', content: 'loam', weight: 0, feedback: null },
]
async function editor(fields: Record<string, unknown>) {
  const before = item(fields as never)
  const { view } = await shown(ItemEditor, { item: before })
  const saved = async () => {
    await view.find('form').trigger('submit')
    return nth(sure(view.emitted('save')).at(-1), 0) as Record<string, unknown>
  }
  const button = (words: string) => sure(view.findAll('button').find((entry) => entry.text().includes(words)))
  return { view, before, saved, button }
}
const weights = (saved: Record<string, unknown>) =>
  (saved.choices as { weight: number }[]).map((choice) => choice.weight)

it('moves the one key of a multiple choice, and leaves the item as it came until it is saved', async () => {
  const { view, before, saved } = await editor({ type: 'multiple_choice', choices: choices() })
  await view.find('[aria-label="Choice 2 is right"]').trigger('change')
  expect(weights(await saved())).toEqual([0, 1, 0])
  expect(weights(before as never)).toEqual([1, 0, 0])
})

it('shares the points among the keys of a multiple response', async () => {
  const { view, saved } = await editor({ type: 'multiple_response', choices: choices(), scoring: 'all_or_nothing' })
  await view.find('[aria-label="Choice 3 is right"]').trigger('change')
  expect(weights(await saved())).toEqual([0.5, 0, 0.5])
  await view.find('[aria-label="Choice 1 is right"]').trigger('change')
  expect(weights(await saved())).toEqual([0, 0, 1])
})

it('adds and removes choices, with names that are free', async () => {
  const taken = [...choices(), { id: 'c5', content: 'peat', weight: 0, feedback: null }]
  const { view, saved, button } = await editor({ type: 'multiple_choice', choices: taken })
  await button('Add a choice').trigger('click')
  await nth(view.findAll('.choice .link-button'), 1).trigger('click')
  expect(((await saved()).choices as { id: string }[]).map((choice) => choice.id)).toEqual(['a', 'c', 'c5', 'c6'])
})

it('takes points as a number or as none', async () => {
  const { view, saved } = await editor({ type: 'essay' })
  const field = view.find('input[aria-label="Points"]')
  for (const [typed, points] of [
    ['2.5', 2.5],
    ['', null],
    ['many', null],
    ['0', 0],
  ] as const) {
    await field.setValue(typed)
    expect((await saved()).points).toBe(points)
  }
})

it('edits answers in words and in numbers, with a comma as decimal sign', async () => {
  const words = await editor({
    type: 'fill_in',
    answers: [{ text: 'clay', weight: 1, match: 'exact' }],
    case_sensitive: false,
  })
  await words.button('Add an answer').trigger('click')
  await words.view.find('input[aria-label="Answer 2"]').setValue('argil')
  expect(((await words.saved()).answers as { text: string }[]).map((answer) => answer.text)).toEqual(['clay', 'argil'])

  const numbers = await editor({
    type: 'numeric',
    answers: [
      { value: 25, tolerance: 0, weight: 1 },
      { min: 1, max: 2, weight: 1 },
    ],
  })
  await numbers.view.find('input[aria-label="Tolerance"]').setValue('0,5')
  await numbers.view.find('input[aria-label="Most"]').setValue('')
  expect((await numbers.saved()).answers).toMatchObject([
    { value: 25, tolerance: 0.5 },
    { min: 1, max: null },
  ])
})

it('sets the key of true or false, pairs, and feedback that goes when it is emptied', async () => {
  const truth = await editor({ type: 'true_false', answer: null, feedback: { general: 'Old.' } })
  await nth(truth.view.findAll('input[type=radio]'), 1).trigger('change')
  const feedback = truth.view.find('[aria-label="Feedback to all"]')
  feedback.element.innerHTML = ''
  await feedback.trigger('input')
  expect(await truth.saved()).toMatchObject({ answer: false, feedback: {} })

  const pairs = await editor({ type: 'matching', pairs: [{ left: 'sand', right: 'coarse' }], distractors: [] })
  await pairs.button('Add a pair').trigger('click')
  expect((await pairs.saved()).pairs).toEqual([
    { left: 'sand', right: 'coarse' },
    { left: '', right: '' },
  ])
})

it('saves by Ctrl+Enter and can be left', async () => {
  const { view, button } = await editor({ type: 'essay' })
  await view.find('form').trigger('keydown', { key: 'Enter', ctrlKey: true })
  expect(view.emitted('save')).toHaveLength(1)
  await button('Leave it as it was').trigger('click')
  expect(view.emitted('cancel')).toHaveLength(1)
})

import { expect, it } from 'vitest'

import { nth, shown, sure } from '@/testing'

import StudentItem from './StudentItem.vue'

const options = [
  { id: 'a', content: 'clay' },
  { id: 'b', content: 'sand' },
  { id: 'c', content: 'silt' },
]

async function question(fields: Record<string, unknown>, modelValue?: unknown, marked?: unknown) {
  const base = { id: '7', stem: 'Which?', stimulus: null, points: 2, options: [], lefts: [], blanks: [], unit: null }
  const { view } = await shown(StudentItem, { item: { ...base, ...fields }, number: 4, marked, modelValue })
  return { view, answer: () => view.emitted('update:modelValue')?.at(-1)?.[0] }
}

it('answers one choice, several, and true or false', async () => {
  const one = await question({ form: 'one', options })
  await nth(one.view.findAll('input'), 1).setValue()
  expect(one.answer()).toBe('b')
  const several = await question({ form: 'several', options }, ['a', 'c'])
  await nth(several.view.findAll('input'), 0).setValue(false)
  expect(several.answer()).toEqual(['c'])
  const truth = await question({ form: 'truth' })
  await nth(truth.view.findAll('input'), 1).setValue()
  expect(truth.answer()).toBe('false')
})

it('answers in words, numbers and at length', async () => {
  const number = await question({ form: 'number', unit: '%' })
  expect(number.view.find('input').attributes('inputmode')).toBe('decimal')
  expect(number.view.text()).toContain('%')
  await number.view.find('input').setValue('25')
  expect(number.answer()).toBe('25')
  const long = await question({ form: 'long' })
  await long.view.find('textarea').setValue('Because.')
  expect(long.answer()).toBe('Because.')
})

it('fills blanks by typing and by choosing, and keeps the others', async () => {
  const blanks = [
    { id: 'b1', options: [] },
    { id: 'b2', options },
  ]
  const { view, answer } = await question({ form: 'blanks', blanks }, { b1: 'loam' })
  await view.find('select').setValue('c')
  expect(answer()).toEqual({ b1: 'loam', b2: 'c' })
})

it('pairs each left with a right', async () => {
  const lefts = [
    { id: '0', content: '<em>fine</em>' },
    { id: '1', content: 'coarse' },
  ]
  const { view, answer } = await question({ form: 'pairs', lefts, options }, { 1: 'b' })
  await view.find('select[aria-label="Partner of fine"]').setValue('a')
  expect(answer()).toEqual({ 0: 'a', 1: 'b' })
})

it('fills blanks where they stand in the stem', async () => {
  const stem = 'Clay is <span data-blank="b1"></span>, sand is <span data-blank="b2"></span>.'
  const blanks = [
    { id: 'b1', options: [] },
    { id: 'b2', options },
  ]
  const { view, answer } = await question({ form: 'blanks', blanks, stem })
  const [first, second] = [...view.element.querySelectorAll('.stem [data-blank]')]
  sure(first?.querySelector('input')).value = 'fine'
  sure(first?.querySelector('input')).dispatchEvent(new Event('input'))
  expect(answer()).toEqual({ b1: 'fine' })
  expect(second?.querySelector('select')?.getAttribute('aria-label')).toBe('Blank 2 of question 4')
})

it('puts steps in order, from the order that they were shown in', async () => {
  const { view, answer } = await question({ form: 'order', options })
  const buttons = view.findAll('button')
  expect(buttons.map((button) => button.attributes('disabled') !== undefined)).toEqual([
    true,
    false,
    false,
    false,
    false,
    true,
  ])
  expect(nth(buttons, 2).attributes('aria-label')).toBe('Up in question 4: sand')
  await nth(buttons, 2).trigger('click')
  expect(answer()).toEqual(['b', 'a', 'c'])
})

const told = (fields: object) => ({
  points: 2,
  by_hand: false,
  share: null,
  earned: null,
  feedback: [],
  key: '',
  ...fields,
})
it.each([
  [told({ share: 1, earned: 2, feedback: ['Well done.'] }), 'right', ['Right: 2 of 2', 'Well done.']],
  [told({ share: 0.5, earned: 1, key: 'clay' }), '', ['Partly right: 1 of 2', 'Key: clay']],
  [told({ share: 0 }), 'wrong', ['Not right']],
  [told({ earned: 1 }), '', ['1 of 2']],
  [told({ by_hand: true }), '', ['Awaits a person']],
])('says what is released: %j', async (marked, kind, words) => {
  const { view } = await question({ form: 'one', options }, 'a', marked)
  const result = view.find('.marked')
  for (const word of words) expect(result.text().replace(/\s+/g, ' ')).toContain(word)
  expect(
    result
      .classes()
      .filter((name) => ['right', 'wrong'].includes(name))
      .join(),
  ).toBe(kind)
  expect(view.find('fieldset').attributes('disabled')).toBeDefined()
})

it('says nothing where nothing is released', async () => {
  const { view } = await question({ form: 'one', options }, undefined, told({}))
  expect(view.find('.marked').exists()).toBe(false)
})

it('asks nothing where there is only something to read', async () => {
  const { view } = await question({ form: 'none', stimulus: '<p>A map</p>' }, undefined, {
    share: 0,
    earned: 0,
    points: 0,
    feedback: [],
    key: '',
  })
  expect(view.find('.marked').exists()).toBe(false)
  expect(view.text()).toContain('A map')
  expect(view.text()).not.toContain('point')
})

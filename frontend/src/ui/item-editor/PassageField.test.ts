import { expect, it } from 'vitest'

import { nth, shown } from '@/testing'

import PassageField from './PassageField.vue'

const PASSAGES = [
  { id: 's1', content: '<p>A core of <strong>clay</strong></p>' },
  { id: 's3', content: '' },
]
async function field(stimulus: string | null) {
  const { view } = await shown(PassageField, { modelValue: stimulus, passages: PASSAGES })
  return { view, choose: (value: string) => view.find('select').setValue(value) }
}

it('offers the passages by their words, and shows the text of the one that is shared', async () => {
  const { view, choose } = await field(null)
  expect(view.findAll('option').map((option) => option.text())).toEqual([
    'none',
    'A core of clay',
    'without text yet',
    'a new passage',
  ])
  expect(view.find('[aria-label="Text of the passage"]').exists()).toBe(false)
  await choose('s1')
  expect(view.emitted('update:modelValue')).toEqual([['s1']])
})

it('shares none again, and leaves the passage to the others', async () => {
  const { view, choose } = await field('s1')
  expect(view.find('[aria-label="Text of the passage"]').text()).toBe('A core of clay')
  await choose('')
  expect([view.emitted('update:modelValue'), view.emitted('update:passages')]).toEqual([[[null]], undefined])
})

it('makes a new passage under a name that none has', async () => {
  const { view, choose } = await field('s1')
  await choose('+')
  const made = nth(view.emitted('update:passages'), 0)[0] as typeof PASSAGES
  expect(made.slice(0, 2)).toEqual(PASSAGES)
  expect(view.emitted('update:modelValue')).toEqual([[nth(made, -1).id]])
  expect(PASSAGES.map(({ id }) => id)).not.toContain(nth(made, -1).id)
})

import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { finding, item, nth, shown, sure } from '@/testing'

import ItemEditor from './ItemEditor.vue'

const choices = () => [
  { id: 'a', content: 'clay', weight: 1, feedback: null },
  { id: 'b', content: 'sand', weight: 0, feedback: null },
  { id: 'c', content: 'loam', weight: 0, feedback: null },
]
/** An editor; `keyed` are the weights that the core gives when a key is set. */
async function editor(fields: Record<string, unknown>, keyed: number[] = []) {
  const before = item(fields as never)
  const given = keyed.map((weight, n) => ({ id: 'abc'[n], content: '', weight }))
  const answers = { 'POST /api/item-key': { item: { ...fields, choices: given } } }
  const { view, asked } = await shown(ItemEditor, { item: before }, { answers })
  const saved = async () => {
    await view.find('form').trigger('submit')
    await flushPromises()
    return nth(sure(view.emitted('save')).at(-1), 0) as Record<string, unknown>
  }
  const button = (words: string) => sure(view.findAll('button').find((entry) => entry.text().includes(words)))
  return { view, asked, before, saved, button }
}
/** The keys that the core was asked for. */
const keys = (asked: { path: string; body: unknown }[]) =>
  asked.filter((call) => call.path === '/api/item-key').map((call) => (call.body as { right: string[] }).right)
const weights = (saved: Record<string, unknown>) =>
  (saved.choices as { weight: number }[]).map((choice) => choice.weight)

it('asks the core for the weights of another key, and leaves the item as it came until it is saved', async () => {
  const partial = [choices()[0], { ...choices()[1], weight: 0.5 }, { ...choices()[2], weight: -0.25 }]
  const { view, asked, before, saved } = await editor({ type: 'multiple_choice', choices: partial }, [0, 1, -0.25])
  await view.find('[aria-label="Choice 2 is right"]').trigger('change')
  await flushPromises()
  expect(keys(asked)).toEqual([['b']])
  expect(weights(await saved())).toEqual([0, 1, -0.25])
  expect(weights(before as never)).toEqual([1, 0.5, -0.25])
})

it('saves the key that was ticked a moment before, and nothing where the core refused it', async () => {
  const { view, saved } = await editor({ type: 'multiple_choice', choices: choices() }, [0, 1, 0])
  void view.find('[aria-label="Choice 2 is right"]').trigger('change')
  expect(weights(await saved())).toEqual([0, 1, 0])
  const refused = await shown(ItemEditor, { item: item({ type: 'multiple_choice', choices: choices() } as never) })
  void refused.view.find('[aria-label="Choice 2 is right"]').trigger('change')
  await refused.view.find('form').trigger('submit')
  await flushPromises()
  expect(refused.view.emitted('save')).toBeUndefined()
  expect(refused.view.find<HTMLInputElement>('[aria-label="Choice 1 is right"]').element.checked).toBe(true)
})

it('shows each of two keys where one is asked for, until one is picked', async () => {
  const both = choices().map((choice, n) => ({ ...choice, weight: n === 1 ? 0 : 1 }))
  const { view } = await editor({ type: 'multiple_choice', choices: both }, [0, 1, 0])
  const ticked = () =>
    [1, 2, 3].map((n) => view.find<HTMLInputElement>(`[aria-label="Choice ${n} is right"]`).element.checked)
  expect(ticked()).toEqual([true, false, true])
  await view.find('[aria-label="Choice 2 is right"]').setValue(true)
  await flushPromises()
  expect(ticked()).toEqual([false, true, false])
  const again = await editor({ type: 'multiple_choice', choices: both }, [1, 0, 0])
  await again.view.find('[aria-label="Choice 1 is right"]').trigger('click')
  await flushPromises()
  expect(keys(again.asked)).toEqual([['a']])
  expect(weights(await again.saved())).toEqual([1, 0, 0])
})

it('adds a choice to the key of a multiple response and takes it away', async () => {
  const several = { type: 'multiple_response', choices: choices(), scoring: 'all_or_nothing' }
  const { view, asked, saved } = await editor(several, [0.5, 0, 0.5])
  await view.find('[aria-label="Choice 3 is right"]').trigger('change')
  await flushPromises()
  expect(weights(await saved())).toEqual([0.5, 0, 0.5])
  await view.find('[aria-label="Choice 1 is right"]').trigger('change')
  await flushPromises()
  expect(keys(asked)).toEqual([['a', 'c'], ['c']])
})

it('adds and removes choices, with names that are free', async () => {
  const taken = [...choices(), { id: 'c5', content: 'peat', weight: 0, feedback: null }]
  const { saved, button } = await editor({ type: 'multiple_choice', choices: taken })
  await button('Add a choice').trigger('click')
  await button('Remove choice 2').trigger('click')
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

it('says how several parts earn, how low a sum goes, and what a tolerance comes from', async () => {
  const several = await editor({ type: 'multiple_response', choices: choices(), scoring: 'per_choice', lowest: 0 })
  await several.view.find('select[aria-label="The sum"]').setValue('none')
  expect(await several.saved()).toMatchObject({ scoring: 'per_choice', lowest: null })
  await several.view.find('select[aria-label="Marks"]').setValue('all_or_nothing')
  expect(await several.saved()).toMatchObject({ scoring: 'all_or_nothing' })

  const numbers = await editor({
    type: 'numeric',
    answers: [
      { value: 50, tolerance: 1, weight: 1 },
      { min: 1, max: 2, weight: 1, include_min: true, include_max: true },
    ],
  })
  await numbers.view.find('select[aria-label="Tolerance is"]').setValue('relative')
  await numbers.view.find('input[aria-label="Tolerance"]').setValue('2')
  await nth(numbers.view.findAll('input[type=checkbox]'), 1).setValue(false)
  expect((await numbers.saved()).answers).toMatchObject([
    { value: 50, relative: 2, tolerance: null },
    { min: 1, max: 2, include_min: true, include_max: false },
  ])
})

it('says of an answer what it earns, and keeps its feedback', async () => {
  const answers = [
    { text: 'clay', weight: 1, match: 'exact' },
    { text: 'silt', weight: 0, match: 'exact', feedback: 'Coarser.' },
  ]
  const { view, saved } = await editor({ type: 'fill_in', answers })
  const earned = view.findAll<HTMLInputElement>('input[aria-label^="What answer"]').map((field) => field.element.value)
  expect(earned).toEqual(['100', '0'])
  expect((await saved()).answers).toEqual(answers)
})

it('says what stays and what goes with another type, and goes back', async () => {
  const before = { type: 'multiple_choice', choices: choices() }
  const made = { item: item({ type: 'essay' } as never), stays: [], goes: ['the choices'] }
  const { view } = await shown(
    ItemEditor,
    { item: item(before as never) },
    { answers: { 'POST /api/item-type': made } },
  )
  await view.find('select[aria-label="Type"]').setValue('essay')
  await flushPromises()
  expect(view.find('[role=status]').text()).toContain('Goes: the choices.')
  expect(view.find('[aria-label="Choice 1"]').exists()).toBe(false)
  await view.find('[role=status] button').trigger('click')
  await flushPromises()
  expect(view.find('[aria-label="Choice 1"]').exists()).toBe(true)
})

it('keeps a draft under its key until it is saved or left', async () => {
  window.localStorage.clear()
  const props = { item: item({ type: 'essay' } as never), draftKey: 'reading:5:2', version: 'v1' }
  const first = await shown(ItemEditor, props)
  await first.view.find('input[aria-label="Points"]').setValue('7')
  await vi.waitFor(() => expect(window.localStorage.getItem('rogatum-draft:reading:5:2')).toContain('7'), 20_000)
  first.view.unmount()
  const second = await shown(ItemEditor, { ...props, version: 'v2' })
  expect(second.view.find<HTMLInputElement>('input[aria-label="Points"]').element.value).toBe('7')
  expect(second.view.find('[role=status]').text()).toContain('what you typed before')
  // It is saved over what it was begun on: what has come since is shown, and asked for.
  await second.view.find('form').trigger('submit')
  await flushPromises()
  expect(nth(sure(second.view.emitted('save')), 0)).toMatchObject([{ points: 7 }, undefined, 'v1'])
  await second.view.find('[role=status] button').trigger('click')
  expect(second.view.find<HTMLInputElement>('input[aria-label="Points"]').element.value).toBe('1')
  expect(window.localStorage.getItem('rogatum-draft:reading:5:2')).toBeNull()
})

it('edits blanks of each kind, and follows the stem by the core', async () => {
  const blanks = [
    {
      id: 'b1',
      kind: 'text',
      answers: [{ text: 'clay', weight: 1, match: 'exact' }],
      case_sensitive: false,
      share: 0.5,
    },
    { id: 'b2', kind: 'choice', choices: choices(), share: 0.5 },
  ]
  const before = item({ type: 'cloze', stem: 'A <span data-blank="b1"></span> B', blanks } as never)
  const keyed = {
    item: {
      ...item({ type: 'multiple_choice' } as never),
      choices: choices().map((c, n) => ({ ...c, weight: n === 1 ? 1 : 0 })),
    },
  }
  const numbers = { blank: { id: 'b1', kind: 'numeric', answers: [], share: 0.5 } }
  const answers = { 'POST /api/item-key': keyed, 'POST /api/item-blank': numbers }
  const { view } = await shown(ItemEditor, { item: before }, { answers })
  await view.find('[aria-label="Choice 2 of blank 2 is right"]').trigger('change')
  await flushPromises()
  await view.find('select[aria-label="Kind of blank 1"]').setValue('numeric')
  await view.find('form').trigger('submit')
  await flushPromises()
  const saved = nth(sure(view.emitted('save')).at(-1), 0) as {
    blanks: { kind: string; answers?: unknown[]; choices?: { weight: number }[] }[]
  }
  expect(saved.blanks.map((blank) => blank.kind)).toEqual(['numeric', 'choice'])
  expect(saved.blanks[0]?.answers).toHaveLength(1)
  expect(saved.blanks[1]?.choices?.map((choice) => choice.weight)).toEqual([0, 1, 0])
})

it('says what is the matter while one types', async () => {
  const answers = {
    'POST /api/item-check': { findings: [finding({ message: 'No choice is marked correct.' })], advice: [] },
  }
  const { view } = await shown(ItemEditor, { item: item({ type: 'essay' } as never) }, { answers })
  await vi.waitFor(() => expect(view.find('.checked').text()).toContain('No choice is marked correct.'), 20_000)
})

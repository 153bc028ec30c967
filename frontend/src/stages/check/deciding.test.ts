import { expect, it } from 'vitest'

import { nth, readItem, item, shown } from '@/testing'

import DecisionBar from './DecisionBar.vue'
import PickList from './PickList.vue'

const OPTIONS = ['clay', 'sand', 'silt'].map((value) => ({ value, label: value, on: value === 'sand' }))

async function list(props = {}) {
  const { view } = await shown(PickList, { label: 'Separate', options: OPTIONS, ...props })
  const field = view.find('input')
  const options = () => view.findAll('[role=option]').map((option) => option.text())
  const lit = () => view.find('[aria-selected=true]').text()
  return { view, field, options, lit }
}

it('narrows a list by what is typed, and says where nothing is left', async () => {
  const { field, options, view } = await list()
  await field.setValue('s')
  expect(options()).toEqual(['sand', 'silt'])
  await field.setValue('loam')
  expect([options(), view.text()]).toEqual([[], 'Nothing like that.'])
  await field.trigger('keydown', { key: 'Enter' })
  expect(view.emitted('pick')).toBeUndefined()
})

it('goes round a list by the arrows, and begins anew with each letter', async () => {
  const { field, lit, view } = await list()
  await field.trigger('keydown', { key: 'ArrowUp' })
  expect(lit()).toBe('silt')
  expect(field.attributes('aria-activedescendant')).toBe('pick-2')
  await field.trigger('keydown', { key: 'ArrowDown' })
  expect(lit()).toBe('clay')
  await field.trigger('keydown', { key: 'ArrowDown' })
  await field.setValue('a')
  expect(lit()).toBe('clay')
  await field.trigger('keydown', { key: 'Enter' })
  expect(view.emitted('pick')).toEqual([['clay']])
})

it('offers what was typed where the list is free, unless it is there', async () => {
  const { field, options, view } = await list({ free: 'Set' })
  await field.setValue(' Loam ')
  expect(options()).toEqual(['Set “Loam”'])
  await field.trigger('keydown', { key: 'Enter' })
  expect(view.emitted('pick')).toEqual([['Loam']])
  await field.setValue('CLAY')
  expect(options()).toEqual(['clay'])
})

it('is left by Esc and by going elsewhere, with nothing chosen', async () => {
  const { field, view } = await list()
  await field.trigger('keydown', { key: 'Escape' })
  await field.trigger('blur')
  expect([view.emitted('close')?.length, view.emitted('pick')]).toEqual([2, undefined])
})

const OUTCOMES = [
  { code: '2.1', text: 'Name the separates' },
  { code: '2.2', text: '' },
]
async function bar(props = {}) {
  const fields = { item: item({ type: 'essay', points: 2, metadata: { outcome: ['2.2', '9'] } }) }
  const { view } = await shown(DecisionBar, { item: readItem(1, fields), outcomes: OUTCOMES, ...props })
  const open = async (at: number) => nth(view.findAll('.link-button'), at).trigger('click')
  const options = () => view.findAll('[role=option]')
  async function choose(text: string): Promise<void> {
    await view.find('input').setValue(text)
    await view.find('input').trigger('keydown', { key: 'Enter' })
  }
  return { view, open, options, choose }
}

it('sets points from the list, typed with a comma, or none', async () => {
  const { view, open, options, choose } = await bar()
  await open(0)
  expect(
    options()
      .filter((option) => option.classes('on'))
      .map((option) => option.text()),
  ).toEqual(['2 points'])
  await choose('2,5')
  await open(0)
  await choose('no points')
  await open(0)
  await choose('many')
  expect(view.emitted('decide')).toEqual([[{ kind: 'points', points: 2.5 }], [{ kind: 'points', points: null }]])
})

it('aligns with the outcomes of the course, and takes those away that it holds', async () => {
  const { view, open, options, choose } = await bar()
  await open(2)
  expect(options().map((option) => [option.text(), option.classes('on')])).toEqual([
    ['2.1 Name the separates', false],
    ['2.2', true],
    ['9', true],
  ])
  await choose('separates')
  await open(2)
  await choose('3.4')
  expect(view.emitted('decide')).toEqual([[{ kind: 'outcome', code: '2.1' }], [{ kind: 'outcome', code: '3.4' }]])
})

it('says of an item that it is for paper, at once', async () => {
  const { view, open, options } = await bar()
  await open(3)
  expect([view.emitted('decide'), options()]).toEqual([[[{ kind: 'paper' }]], []])
})

it('is closed by the same key, and by going to another item', async () => {
  const { view, open } = await bar()
  await open(1)
  expect(view.findComponent(PickList).props('label')).toBe('Type')
  await open(1)
  expect(view.findComponent(PickList).exists()).toBe(false)
  await open(1)
  await view.setProps({ item: readItem(2) })
  expect(view.findComponent(PickList).exists()).toBe(false)
})

it('decides nothing where nothing may be decided', async () => {
  const { view, open } = await bar({ disabled: true })
  await open(0)
  expect(view.findComponent(PickList).exists()).toBe(false)
  expect(view.find('.decisions').isVisible()).toBe(false)
})

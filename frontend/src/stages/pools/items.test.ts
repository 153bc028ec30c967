import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, it, vi } from 'vitest'

import { item, nth, shown, sure } from '@/testing'
import { handleKey } from '@/ui/shortcuts'

import BulkBar from './BulkBar.vue'
import ItemReader from './ItemReader.vue'
import ItemTable from './ItemTable.vue'
import { NONE } from './selection'

const row = (id: number, fields = {}) => ({
  id,
  text: `Question ${id}`,
  title: '',
  type: 'essay',
  points: 1,
  outcome: '2.1',
  ...fields,
})
const PAGE = { total: 3, size: 200, rows: [row(11), row(12, { text: '', title: 'Titled', points: null }), row(13)] }

beforeEach(() => void vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(400))

async function table(props = {}, page: unknown = PAGE) {
  const all = { course: 1, filter: { query: '', type: '' }, open: 12, modelValue: NONE, ...props }
  return shown(ItemTable, all, { answers: { 'GET /api/courses/1/items': page } })
}

it('lists items with what they are worth, and says how many there are', async () => {
  const { view } = await table()
  expect(view.findAll('.item').map((entry) => entry.findAll('[role=gridcell]').map((cell) => cell.text()))).toEqual([
    ['', 'Question 11', '2.1', 'essay', '1'],
    ['', 'Titled', '2.1', 'essay', '–'],
    ['', 'Question 13', '2.1', 'essay', '1'],
  ])
  expect(view.emitted('total')?.at(-1)).toEqual([3])
  expect(nth(view.findAll('.item'), 1).classes('open')).toBe(true)
})

it('opens an item by a click and ticks one, or a run with the shift key', async () => {
  const { view } = await table({ modelValue: { ids: [11], all: false } })
  await nth(view.findAll('.item'), 2).trigger('click')
  expect(view.emitted('open')).toEqual([[13]])
  await nth(view.findAll('input'), 2).trigger('click', { shiftKey: true })
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([{ ids: [11, 12, 13], all: false }])
})

it('steps from the open item to its neighbours, and not beyond the list', async () => {
  const { view } = await table()
  const { step } = view.vm as unknown as { step: (by: number) => Promise<void> }
  await step(1)
  await step(-1)
  await view.setProps({ open: 13 })
  await step(1)
  expect(view.emitted('open')).toEqual([[13], [11]])
})

it('lets nothing be done with the rows of the list before, until its own are there', async () => {
  const { view } = await table()
  await view.setProps({ filter: { query: '', type: '', pool: 6 } })
  const list = view.find('[role=grid]')
  expect([list.attributes('aria-busy'), view.find('.item').element.closest('[inert]') !== null]).toEqual(['true', true])
  expect(view.emitted('total')?.at(-1)).toEqual([undefined])
  await (view.vm as unknown as { step: (by: number) => Promise<void> }).step(1)
  expect(view.emitted('open')).toBeUndefined()
  await flushPromises()
  expect([list.attributes('aria-busy'), view.find('.item').element.closest('[inert]')]).toEqual(['false', null])
  expect(view.emitted('total')?.at(-1)).toEqual([3])
})

it('says why a list is empty, and that it cannot be had', async () => {
  const none = { total: 0, size: 200, rows: [] }
  expect((await table({}, none)).view.text()).toContain('This pool is empty')
  expect((await table({ filter: { query: 'x', type: '' } }, none)).view.text()).toContain('Take a filter away')
  const props = { course: 1, filter: { query: '', type: '' }, open: 0, modelValue: NONE }
  const { view } = await shown(ItemTable, props)
  expect(view.find('[role=alert]').exists()).toBe(true)
})

const ITEM = {
  id: 12,
  item: item({ type: 'essay', stem: 'Why?' }),
  path: ['Chapter 2', 'Texture'],
  findings: [{ level: 'warning', code: 'x', message: 'Look here.', fix: 'Mend it.' }],
  stimulus: null,
  origin: 'a.zip: item 2',
}
const HISTORY = [
  { created: '2026-09-01T10:00:00Z', label: 'Set points', undone: true },
  { created: '2026-09-01T09:00:00Z', label: 'Took 9 items', undone: false },
]

it('reads an item with where it came from and what was done with it, and edits it by a key', async () => {
  const answers = { 'GET /api/items/12': ITEM, 'GET /api/items/12/history': HISTORY, 'PUT /api/items/12': ITEM }
  const { view, asked } = await shown(ItemReader, { course: 1, item: 12 }, { answers })
  const text = view.text().replace(/\s+/g, ' ')
  for (const part of [
    'Chapter 2 / Texture',
    'Look here.',
    'Came from a.zip: item 2',
    'History (2)',
    'Set points, undone',
  ])
    expect(text).toContain(part)
  handleKey(new KeyboardEvent('keydown', { key: 'e' }))
  await flushPromises()
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(asked.filter((call) => call.method === 'PUT')).toHaveLength(1)
  expect(view.find('form').exists()).toBe(false)
})

function pools() {
  const done = () => ({ mutateAsync: vi.fn().mockResolvedValue({ count: 1 }) })
  return {
    move: done(),
    setPoints: done(),
    removeItems: done(),
    pools: { data: { value: [{ id: 4, name: 'Texture' }] } },
  }
}

async function bar(modelValue: unknown) {
  const all = pools()
  const selection = { ids: [11], all_matching: false }
  const { view } = await shown(BulkBar, { modelValue, total: 240, selection, pools: all, course: 1 }, {})
  const button = (words: string) =>
    sure([...document.querySelectorAll('button')].find((entry) => entry.textContent?.includes(words)))
  return { view, all, selection, button }
}

it('says what is selected, and selects all that match', async () => {
  const { view } = await bar({ ids: [11, 12], all: false })
  expect(view.find('strong').text()).toContain('2')
  await sure(view.findAll('button').find((button) => button.text().includes('Select all 240'))).trigger('click')
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([{ ids: [], all: true }])
})

it('sets points of the selection, and keeps it selected', async () => {
  const { view, all, selection, button } = await bar({ ids: [11], all: false })
  handleKey(new KeyboardEvent('keydown', { key: 'v' }))
  await flushPromises()
  const field = sure(document.querySelector<HTMLInputElement>('input[aria-label="Points"]'))
  field.value = '2.5'
  field.dispatchEvent(new Event('input'))
  await flushPromises()
  button('Set points to 2.5').click()
  await flushPromises()
  expect(all.setPoints.mutateAsync).toHaveBeenCalledWith({ selection, points: 2.5 })
  expect(view.emitted('update:modelValue')).toBeUndefined()
})

it('deletes only after it was asked, and selects nothing then', async () => {
  const { view, all, selection, button } = await bar({ ids: [11], all: false })
  button('Delete').click()
  await flushPromises()
  expect(all.removeItems.mutateAsync).not.toHaveBeenCalled()
  sure(document.querySelector<HTMLButtonElement>('.el-dialog__footer button')).click()
  await flushPromises()
  expect(all.removeItems.mutateAsync).toHaveBeenCalledWith(selection)
  expect(view.emitted('update:modelValue')).toEqual([[NONE]])
})

it('does nothing by keys while nothing is selected', async () => {
  const { view } = await bar(NONE)
  handleKey(new KeyboardEvent('keydown', { key: 'm' }))
  await flushPromises()
  expect(document.querySelector('.el-dialog')).toBeNull()
  expect(view.text()).toContain('Nothing selected')
})

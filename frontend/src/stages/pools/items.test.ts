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
  difficulty: '',
  source: 'a.zip',
  picture: false,
  formula: false,
  feedback: false,
  findings: '',
  advice: '',
  handed: null,
  updated: '2026-11-01T10:00:00Z',
  ...fields,
})
const ORDER = { sort: 'position', descending: false }
const PAGE = {
  total: 3,
  size: 200,
  rows: [row(11), row(12, { text: '', title: 'Titled', points: null, picture: true, findings: 'no-key' }), row(13)],
}

beforeEach(() => void vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(400))

async function table(props = {}, page: unknown = PAGE) {
  const all = { course: 1, filter: {}, order: ORDER, open: 12, modelValue: NONE, ...props }
  return shown(ItemTable, all, { answers: { 'GET /api/courses/1/items': page } })
}

it('lists items with what they are worth, and says how many there are', async () => {
  const { view } = await table()
  expect(view.findAll('.item').map((entry) => entry.findAll('[role=gridcell]').map((cell) => cell.text()))).toEqual([
    ['', 'Question 11', '', '2.1', '', 'essay', '1'],
    ['', 'Titled', '▣!', '2.1', '', 'essay', '–'],
    ['', 'Question 13', '', '2.1', '', 'essay', '1'],
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
  await view.setProps({ filter: { pool: 6 } })
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
  expect((await table({ filter: { query: 'x' } }, none)).view.text()).toContain('Take a filter away')
  const props = { course: 1, filter: {}, order: ORDER, open: 0, modelValue: NONE }
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
it('reads an item with where it lies and what is open, and edits it by a key', async () => {
  const answers = { 'GET /api/items/12': ITEM, 'PUT /api/items/12': ITEM }
  const { view, asked } = await shown(ItemReader, { course: 1, item: 12, mayEdit: true }, { answers })
  const text = view.text().replace(/\s+/g, ' ')
  for (const part of ['Chapter 2 / Texture', 'Look here.', 'Came from a.zip: item 2', 'All about it'])
    expect(text).toContain(part)
  handleKey(new KeyboardEvent('keydown', { key: 'e' }))
  await vi.waitFor(() => expect(view.find('form').exists()).toBe(true), 20_000)
  await view.find('form').trigger('submit')
  await flushPromises()
  expect(asked.filter((call) => call.method === 'PUT')).toHaveLength(1)
  expect(view.find('form').exists()).toBe(false)
})

it('shows an item to a reader, who cannot edit it', async () => {
  const { view } = await shown(
    ItemReader,
    { course: 1, item: 12, mayEdit: false },
    { answers: { 'GET /api/items/12': ITEM } },
  )
  handleKey(new KeyboardEvent('keydown', { key: 'e' }))
  await flushPromises()
  expect([view.find('form').exists(), view.text().includes('Edit')]).toEqual([false, false])
})

it('sorts by a heading, and says which', async () => {
  const { view } = await table({ order: { sort: 'points', descending: true } })
  const heads = view.findAll('[role=columnheader]')
  expect(heads.map((head) => head.text())).toEqual([
    'Selected',
    'Stem',
    'Holds',
    'Outcome',
    'Difficulty',
    'Type',
    'Points ↓',
  ])
  expect(nth(heads, -1).attributes('aria-sort')).toBe('descending')
  await nth(heads, 1).find('button').trigger('click')
  expect(view.emitted('sort')).toEqual([['text']])
})

function pools() {
  const done = () => ({ mutateAsync: vi.fn().mockResolvedValue({ count: 1 }) })
  return {
    move: { ...done(), isPending: { value: false } },
    copy: { ...done(), isPending: { value: false } },
    changeMany: { ...done(), isPending: { value: false } },
    removeItems: done(),
    refresh: vi.fn(),
    pools: { data: { value: [{ id: 4, name: 'Texture' }] } },
  }
}

async function bar(modelValue: unknown, mayEdit = true, answers: Record<string, unknown> = {}) {
  const all = pools()
  const selection = { ids: [11], all_matching: false }
  const props = { modelValue, total: 240, selection, pools: all, course: 1, mayEdit }
  const { view, asked } = await shown(BulkBar, props, { answers })
  const button = (words: string) =>
    sure([...document.querySelectorAll('button')].find((entry) => entry.textContent?.includes(words)))
  return { view, all, asked, selection, button }
}

it('says what is selected, and selects all that match', async () => {
  const { view } = await bar({ ids: [11, 12], all: false })
  expect(view.find('strong').text()).toContain('2')
  await sure(view.findAll('button').find((button) => button.text().includes('Select all 240'))).trigger('click')
  expect(view.emitted('update:modelValue')?.at(-1)).toEqual([{ ids: [], all: true }])
})

const TALLY = {
  selected: 240,
  looked: 240,
  changes: 230,
  same: 3,
  stays: [{ what: 'Information has no points.', count: 7 }],
  goes: [],
  examples: [{ item: 11, text: 'Question 11', before: '1 point', after: '2.5 points' }],
}

it('changes what is selected after it told what that will do to how many', async () => {
  const { view, all, asked, selection, button } = await bar({ ids: [], all: true }, true, {
    'POST /api/courses/1/items/change/preview': TALLY,
  })
  handleKey(new KeyboardEvent('keydown', { key: 'v' }))
  await flushPromises()
  const field = sure(document.querySelector<HTMLInputElement>('#change-number'))
  field.value = '2.5'
  field.dispatchEvent(new Event('input'))
  const told = () => sure(document.querySelector('.told')).textContent.replace(/\s+/g, ' ')
  const parts = ['230 items will change, 3 are so already.', '7 items stay: Information has no points.', '→2.5 points']
  const asked25 = () => JSON.stringify(asked.at(-1)?.body).includes('2.5')
  await vi.waitFor(() => expect(asked25() && parts.every((part) => told().includes(part))).toBe(true))
  button('Change 230 items').click()
  await flushPromises()
  const change = { kind: 'points', points: 2.5 }
  expect(asked.at(-1)?.body).toEqual({ selection, change })
  expect(all.changeMany.mutateAsync).toHaveBeenCalledWith({ selection, change })
  expect(view.emitted('update:modelValue')).toBeUndefined()
})

it('deletes only after it was asked and no quiz uses them, and selects nothing then', async () => {
  const free = { 'POST /api/courses/1/items/about': { items: 1, quizzes: [] } }
  const { view, all, selection, button } = await bar({ ids: [11], all: false }, true, free)
  button('More').click()
  await flushPromises()
  sure([...document.querySelectorAll<HTMLElement>('li')].find((entry) => entry.textContent.includes('Delete'))).click()
  await flushPromises()
  expect(all.removeItems.mutateAsync).not.toHaveBeenCalled()
  button('Delete 1 item').click()
  await flushPromises()
  expect(all.removeItems.mutateAsync).toHaveBeenCalledWith(selection)
  expect(view.emitted('update:modelValue')).toEqual([[NONE]])
})

it('gives readers what copies, and nothing that changes', async () => {
  const { view } = await bar({ ids: [11], all: false }, false)
  const words = view.findAll('button').map((entry) => entry.text())
  expect(words.filter((entry) => /Move|Change|quiz|Hand on/.test(entry))).toEqual([])
  expect(words.some((entry) => entry.startsWith('Copy'))).toBe(true)
  handleKey(new KeyboardEvent('keydown', { key: 'm' }))
  await flushPromises()
  expect(document.querySelector('.el-dialog')).toBeNull()
})

it('hands on what is selected as it is selected', async () => {
  const { view, selection } = await bar({ ids: [], all: true })
  await sure(view.findAll('button').find((entry) => entry.text() === 'Hand on')).trigger('click')
  expect(JSON.parse(sure(sessionStorage.getItem('rogatum-handing-on')))).toEqual({
    course: 1,
    said: 'all 240 that match',
    selection,
  })
})

it('does nothing by keys while nothing is selected', async () => {
  const { view } = await bar(NONE)
  handleKey(new KeyboardEvent('keydown', { key: 'm' }))
  await flushPromises()
  expect(document.querySelector('.el-dialog')).toBeNull()
  expect(view.text()).toContain('Nothing selected')
})

import { flushPromises } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'

import { nth, shown, sure } from '@/testing'

import { handleKey } from '@/ui/shortcuts'

import PoolTree from './PoolTree.vue'
import { treeOf } from './usePools'

const POOLS = [
  { id: 1, name: 'Chapter 2', parent: null, items: 0 },
  { id: 2, name: 'Texture', parent: 1, items: 9, version: 'v' },
  { id: 3, name: 'Structure', parent: 1, items: 4, version: 'v' },
  { id: 4, name: 'Clay', parent: 2, items: 1200, version: 'v' },
] as Parameters<typeof treeOf>[0]

it('counts what a pool holds with all below it', () => {
  const chapter = nth(treeOf(POOLS), 0)
  expect([chapter.own, chapter.total]).toEqual([0, 1213])
  expect(chapter.children.map((node) => [node.name, node.total])).toEqual([
    ['Texture', 1209],
    ['Structure', 4],
  ])
})

it('keeps a pool whose parent is not there', () => {
  expect(
    treeOf([{ id: 9, name: 'Loose', parent: 77, items: 1, version: 'v' }] as typeof POOLS).map((node) => node.name),
  ).toEqual(['Loose'])
})

function pools() {
  const done = () => ({
    mutate: vi.fn(),
    mutateAsync: vi.fn().mockResolvedValue({ count: 1 }),
    isPending: { value: false },
  })
  return { create: done(), change: done(), place: done(), merge: done(), tidy: done(), remove: done() }
}

async function tree(current?: number, mayEdit = true, answers: Record<string, unknown> = {}) {
  const all = pools()
  const props = { tree: treeOf(POOLS), current, course: 1, mayEdit, pools: all }
  const { view } = await shown(PoolTree, props, { answers })
  const button = (words: string) => sure(view.findAll('button').find((entry) => entry.text() === words))
  const choose = async (words: string) => {
    await button('More ▾').trigger('click')
    await flushPromises()
    sure([...document.querySelectorAll<HTMLElement>('li')].find((entry) => entry.textContent.includes(words))).click()
    await flushPromises()
  }
  return { view, all, button, choose }
}
const press = (key: string) => handleKey(new KeyboardEvent('keydown', { key, ctrlKey: key.startsWith('Arrow') }))

it('counts only what a filter leaves, where there is one', () => {
  const counted = nth(treeOf(POOLS, { '4': 2 }), 0)
  expect([counted.total, nth(counted.children, 1).total]).toEqual([2, 0])
})

it('picks a pool, or all', async () => {
  const { view } = await tree(2)
  expect(view.find('.all').text()).toBe('All items1,213')
  await sure(view.findAll('.node').find((node) => node.text().startsWith('Structure'))).trigger('click')
  await view.find('.all').trigger('click')
  expect(view.emitted('pick')).toEqual([[3], [undefined]])
})

it('makes a pool below the open one, and none without a name', async () => {
  const { view, all, button } = await tree(2)
  for (const name of ['   ', '  Loam ']) {
    await button('New pool').trigger('click')
    await view.find('input[aria-label="Name of the pool"]').setValue(name)
    await view.find('form').trigger('submit')
  }
  expect(all.create.mutate.mock.calls).toEqual([[{ name: 'Loam', parent: 2 }]])
})

it('names a pool in its place, and leaves it alone where the name stays', async () => {
  const { view, all } = await tree(2)
  for (const name of ['Texture', 'Grain']) {
    press('F2')
    await flushPromises()
    const field = view.find('.el-tree input[aria-label="Name of the pool"]')
    expect((field.element as HTMLInputElement).value).toBe('Texture')
    await field.setValue(name)
    await view.find('.el-tree form').trigger('submit')
  }
  expect(all.change.mutate.mock.calls).toEqual([[{ id: 2, body: { name: 'Grain', move: false } }]])
})

const MOVES: [number, string, { parent: number | null; before: number | null } | undefined][] = [
  [3, 'ArrowUp', { parent: 1, before: 2 }],
  [2, 'ArrowDown', { parent: 1, before: null }],
  [3, 'ArrowRight', { parent: 2, before: null }],
  [4, 'ArrowLeft', { parent: 1, before: 3 }],
  [2, 'ArrowUp', undefined],
  [1, 'ArrowLeft', undefined],
]
it.each(MOVES)('moves pool %i by %s', async (pool, key, to) => {
  const { all } = await tree(pool)
  press(key)
  expect(all.place.mutate.mock.calls).toEqual(to ? [[{ id: pool, ...to }]] : [])
})

it('asks before a pool is deleted, and says which quizzes use it', async () => {
  const about = { items: 1209, quizzes: [] as string[] }
  const { view, all, choose } = await tree(2, true, { 'GET /api/pools/2/about': about })
  await choose('Delete Texture')
  const confirm = () =>
    sure([...document.querySelectorAll<HTMLButtonElement>('.el-dialog button')].find((b) => b.textContent.includes('1209'))) // prettier-ignore
  expect(all.remove.mutateAsync).not.toHaveBeenCalled()
  confirm().click()
  await flushPromises()
  expect(all.remove.mutateAsync).toHaveBeenCalledWith(2)
  expect(view.emitted('pick')).toEqual([[undefined]])
})

it('does not delete a pool that a quiz uses', async () => {
  const { choose } = await tree(2, true, { 'GET /api/pools/2/about': { items: 9, quizzes: ['Week 1', 'Final'] } })
  await choose('Delete Texture')
  expect(document.querySelector('.el-dialog')?.textContent).toContain('Week 1, Final use it')
})

it('merges several pools into one of them', async () => {
  const { view, all, button, choose } = await tree(undefined)
  await choose('Choose several')
  for (const name of ['Texture', 'Structure']) await view.find(`input[aria-label="Choose ${name}"]`).setValue(true)
  await button('Merge').trigger('click')
  await flushPromises()
  expect(document.querySelector('.el-dialog')?.textContent).toContain('Merge 2 pools')
  expect(all.merge.mutateAsync).not.toHaveBeenCalled()
})

it('shows a reader the tree, and nothing that changes it', async () => {
  const { view, all } = await tree(2, false)
  expect(view.text()).not.toContain('New pool')
  press('F2')
  press('ArrowDown')
  expect([all.place.mutate.mock.calls, view.find('form').exists()]).toEqual([[], false])
})
